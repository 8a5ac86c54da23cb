/** The real server as its own process, on a free loopback port, with a database of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bundleServer } from '../server/bundle.mjs';

const HERE = join(import.meta.dirname, '..');

interface ServerSetting {
  /** Folder of the checkout it is run from. */
  root?: string;
  /** The port it listens on; a free one when left out. */
  port?: number;
  /** Whether an empty library begins with the demo scenes, and whether with their pictures. */
  demo?: boolean | 'without pictures';
}

export class TestServer {
  private child: ChildProcess | null = null;
  private readonly folder = mkdtempSync(join(tmpdir(), 'urnsmith-data-'));
  readonly database = join(this.folder, 'urnsmith.sqlite');

  private readonly root: string;
  private readonly demo: ServerSetting['demo'];
  private taken: number;

  constructor({ root = HERE, port = 0, demo = true }: ServerSetting = {}) {
    this.root = root;
    this.taken = port;
    this.demo = demo;
  }

  get port(): number {
    return this.taken;
  }
  get url(): string {
    return `http://127.0.0.1:${this.taken}`;
  }

  async start(): Promise<void> {
    const folder = await bundleServer(this.root);
    const child = spawn(process.execPath, [join(folder, 'start.mjs')], {
      env: {
        ...process.env,
        URNSMITH_PORT: String(this.taken),
        URNSMITH_DATA: this.database,
        URNSMITH_DEMO: this.demo === true ? 'yes' : this.demo || 'no',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    this.taken = await new Promise<number>((resolve, reject) => {
      let text = '';
      child.stdout.on('data', (d: Buffer) => {
        text += d.toString();
        const m = /http:\/\/127\.0\.0\.1:(\d+)/.exec(text);
        if (m) resolve(Number(m[1]));
      });
      child.once('exit', (code) => reject(new Error(`The server ended with ${code}: ${text}`)));
    });
  }

  /** Ends the server at once, without a chance to tidy up. */
  async kill(signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const ended = new Promise((r) => child.once('exit', r));
    child.kill(signal);
    await ended;
  }

  async close(): Promise<void> {
    await this.kill('SIGTERM');
    rmSync(this.folder, { recursive: true, force: true });
  }
}
