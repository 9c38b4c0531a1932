// Starts the real program on its own temporary data.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const binary = process.env.JEVVO_BINARY ?? join(import.meta.dirname, '..', 'bin', 'jevvo');

export class Program {
  constructor(command = 'demo') {
    this.command = command;
    this.data = mkdtempSync(join(tmpdir(), 'jevvo-e2e-'));
  }

  // start waits until the program prints its address.
  async start(port = 0) {
    this.child = spawn(binary, [this.command, '--data', this.data, '--port', String(port)],
      { stdio: ['ignore', 'pipe', 'inherit'] });
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
    rmSync(this.data, { recursive: true, force: true });
  }
}
