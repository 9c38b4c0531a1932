// Starts the real program on its own temporary data; it plays previews coarser than it
// usually does, so that a busy machine shows them soon.
import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const binary = process.env.JEVVO_BINARY ?? join(import.meta.dirname, '..', 'bin', 'jevvo');

export class Program {
  // A demo begins without its past unless that is asked for: tests count what is in hand.
  constructor(command = 'demo', past = false) {
    this.args = command === 'demo' && !past ? [command, '--short'] : [command];
    this.data = mkdtempSync(join(tmpdir(), 'jevvo-e2e-'));
    const laid = command === 'demo' && !past && process.env.JEVVO_DEMO;
    if (laid) cpSync(laid, this.data, { recursive: true });
  }

  // start waits until the program prints its address.
  async start(port = 0) {
    this.child = spawn(binary, [...this.args, '--data', this.data, '--port', String(port)],
      { stdio: ['ignore', 'pipe', 'inherit'], env: { JEVVO_PREVIEW_CELLS: '36', ...process.env } });
    this.ended = new Promise((done) => this.child.once('exit', done));
    this.url = await new Promise((done, fail) => {
      let text = '';
      this.child.stdout.on('data', (chunk) => {
        text += chunk;
        const found = text.match(/open at (http:\/\/[^/]+)\//);
        if (found) done(found[1]);
      });
      this.child.once('exit', (code) => fail(new Error(`the program ended with ${code}`)));
    });
    return this;
  }

  async kill(signal = 'SIGKILL') {
    this.child.kill(signal);
    await this.ended;
  }

  async end() {
    await this.kill();
    this.remove();
  }

  remove() {
    rmSync(this.data, { recursive: true, force: true });
  }
}
