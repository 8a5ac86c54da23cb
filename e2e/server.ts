/** The real server as its own process, on a free loopback port, with a database of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const HERE = join(import.meta.dirname, '..');

export class TestServer {
  private child: ChildProcess | null = null;
  private readonly folder = mkdtempSync(join(tmpdir(), 'urnsmith-data-'));
  readonly database = join(this.folder, 'urnsmith.sqlite');
  private port = 0;

  /** @param root folder of the sources it is run from */
  constructor(private readonly root = HERE) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['--import', 'tsx', 'demo/start.ts'], {
      cwd: this.root,
      env: { ...process.env, URNSMITH_PORT: String(this.port), URNSMITH_DATA: this.database },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    this.port = await new Promise<number>((resolve, reject) => {
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
