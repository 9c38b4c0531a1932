// Shows what a screen is told: its parts are laid into their places as they change
// anywhere.
const shown = document.querySelector('[data-stream]');

async function line() {
  if (typeof SharedWorker !== 'undefined') return new SharedWorker('/static/built/streams.js',
    { type: 'module', name: 'streams' }).port;
  const { port1, port2 } = new MessageChannel();
  const { join } = await import('/static/built/streams.js');
  join(port2);
  return port1;
}

const revision = (html) => html.match(/data-rev="(\d+)"/)?.[1];

function lay({ part, data }) {
  const first = shown.dataset.told === undefined;
  shown.dataset.told = ''; // it is followed
  const place = shown.querySelector(`[data-part="${part}"]`);
  if (!place) return;
  if (first && revision(data) && revision(data) === revision(place.innerHTML)) return; // as the page came
  window.htmx.swap(place, data, { swapStyle: 'innerHTML' });
  document.dispatchEvent(new Event('jevvo:told'));
}

async function begin() {
  const port = await line();
  port.onmessage = ({ data }) => lay(data);
  const follow = () => port.postMessage({ follow: shown.dataset.stream });
  window.addEventListener('pagehide', () => port.postMessage({}));
  window.addEventListener('pageshow', (e) => { if (e.persisted) follow(); });
  follow();
}
if (shown) begin();
