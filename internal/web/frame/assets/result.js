// Lets the grey cards and the places to compare be pressed in the photographs.

const field = (id) => document.getElementById(id);

document.addEventListener('click', (e) => {
  const shot = e.target.closest('[data-shot]');
  if (!shot || !field('g-spots')) return;
  const box = shot.getBoundingClientRect();
  const at = [(e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height].map((v) => v.toFixed(3))
    .join(',');
  const grey = field(shot.dataset.shot === 'wet' ? 'g-wet' : 'g-cured');
  if (!grey.value) grey.value = at;
  else if (shot.dataset.shot === 'wet') field('g-spots').value = `${field('g-spots').value} ${at}`.trim();
  mark();
});

// mark shows what was pressed.
function mark() {
  for (const old of document.querySelectorAll('.press')) old.remove();
  const put = (shot, text, kind) => {
    const image = document.querySelector(`[data-shot="${shot}"]`);
    const [x, y] = text.split(',').map(Number);
    if (!image || !(x >= 0) || !(y >= 0)) return;
    const dot = Object.assign(document.createElement('span'), { className: `press ${kind}` });
    image.parentElement.append(dot);
    dot.style.left = `${image.offsetLeft + x * image.clientWidth}px`;
    dot.style.top = `${image.offsetTop + y * image.clientHeight}px`;
  };
  put('wet', field('g-wet').value, 'grey');
  put('cured', field('g-cured').value, 'grey');
  for (const text of field('g-spots').value.trim().split(/\s+/)) {
    if (!text) continue;
    put('wet', text, 'spot');
    put('cured', text, 'spot');
  }
}

if (field('g-spots')) {
  for (const id of ['g-wet', 'g-cured', 'g-spots']) field(id).addEventListener('input', mark);
  window.addEventListener('load', mark);
}
