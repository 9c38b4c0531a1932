// The boards of a preview: each shows the frames of one play as they come in.

// relit shades a picture by the slope of its film, as a lamp from the upper left
// shows it.
function relit(pen, width, height, relief) {
  const small = document.createElement('canvas');
  [small.width, small.height] = [relief.width, relief.height];
  const inner = small.getContext('2d', { willReadFrequently: true });
  inner.drawImage(relief, 0, 0);
  const high = inner.getImageData(0, 0, small.width, small.height);
  const shade = inner.createImageData(small.width, small.height);
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < small.width; x++) {
      const i = y * small.width + x;
      const here = high.data[4 * i];
      const left = x ? high.data[4 * (i - 1)] : here;
      const above = y ? high.data[4 * (i - small.width)] : here;
      const slope = (here - left) + (here - above);
      shade.data.set(slope > 0 ? [255, 255, 255] : [0, 0, 0], 4 * i);
      shade.data[4 * i + 3] = Math.min(150, Math.abs(slope) * 9);
    }
  }
  inner.putImageData(shade, 0, 0);
  pen.globalCompositeOperation = 'source-atop';
  pen.drawImage(small, 0, 0, width, height);
  pen.globalCompositeOperation = 'source-over';
}

// A Board draws one play on a canvas. told are its frames in words, at is the one
// that is shown.
export class Board {
  constructor(key, canvas) {
    Object.assign(this, { key, canvas, told: [], at: 0, pictures: [], reliefs: [] });
  }

  address(what) { return `/preview/${this.key}/${what}`; }

  frame(n, what) { return this.address(`frames/${n}/${what}`); }

  load(list, n, what) {
    list[n] ??= new Promise((done, fail) => {
      const image = new Image();
      image.onload = () => done(image);
      image.onerror = () => { delete list[n]; fail(new Error('no picture')); };
      image.src = this.frame(n, what);
    });
    return list[n];
  }

  // show draws a frame, unless another was asked for meanwhile.
  async show(n, lit) {
    if (!this.told[n]) return false;
    this.at = n;
    const image = await this.load(this.pictures, n, 'picture.png');
    const relief = lit && await this.load(this.reliefs, n, 'relief.png');
    if (this.at !== n || !this.canvas.isConnected) return false;
    const { canvas } = this;
    if (canvas.width !== image.width) [canvas.width, canvas.height] = [image.width, image.height];
    const pen = canvas.getContext('2d');
    pen.clearRect(0, 0, canvas.width, canvas.height);
    pen.drawImage(image, 0, 0);
    if (relief) relit(pen, canvas.width, canvas.height, relief);
    return true;
  }

  // near is the last frame that is not after a minute.
  near(minute) {
    let n = 0;
    while (this.told[n + 1] && this.told[n + 1].minute <= minute + 0.01) n++;
    return n;
  }

  // follow listens to the frames as they are calculated.
  follow(on) {
    this.source = new EventSource(this.address('events'));
    this.source.addEventListener('frame', (e) => {
      const t = JSON.parse(e.data);
      this.told[t.n] = t;
      on.frame(t);
    });
    this.source.addEventListener('waiting', (e) => on.words(JSON.parse(e.data).words));
    this.source.addEventListener('failed', (e) => { this.source.close(); on.words(JSON.parse(e.data).words); on.end();
      });
    this.source.addEventListener('whole', () => { this.source.close(); on.whole(); on.end(); });
  }

  close() { this.source?.close(); }
}
