// One stream for all pages of a browser: browsers open few connections to one
// program, and each open tab would hold one. Run as a shared worker it serves
// every tab; where there is none, each tab runs it for itself.

const wanted = new Map(); // address of a screen → pages that show it
let source = null;
let following = '';
let soon = 0;

const pause = 1000; // ms after which a stream that broke off is opened again

function tell(name, data) {
  const [address, part] = name.split('#');
  for (const page of wanted.get(address) ?? []) page.postMessage({ address, part, data });
}

function connect() {
  const of = [...wanted.keys()].sort();
  const query = of.map((a) => `of=${encodeURIComponent(a)}`).join('&');
  if (query === following && source?.readyState !== EventSource.CLOSED) return;
  source?.close();
  following = query;
  if (!query) { source = null; return; }
  source = new EventSource(`/streams?${query}`);
  for (const address of of) {
    for (const part of ['body', 'dial']) {
      source.addEventListener(`${address}#${part}`, (e) => tell(e.type, e.data));
    }
  }
  source.addEventListener('error', () => {
    // what was refused outright is not asked for again by itself
    if (source.readyState === EventSource.CLOSED) again(pause);
  });
}

// several pages that open at once make one stream
function again(ms) {
  clearTimeout(soon);
  soon = setTimeout(connect, ms);
}

function leave(page) {
  for (const [address, pages] of wanted) {
    pages.delete(page);
    if (!pages.size) wanted.delete(address);
  }
}

export function join(page) {
  page.onmessage = ({ data }) => {
    leave(page);
    if (data.follow) {
      wanted.set(data.follow, (wanted.get(data.follow) ?? new Set()).add(page));
      following = ''; // a page that joins is told the present state
    }
    again(20);
  };
  page.start?.();
}

if (typeof SharedWorkerGlobalScope !== 'undefined') self.onconnect = (e) => join(e.ports[0]);
