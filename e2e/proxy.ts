/** A proxy between page and server that breaks the exchange where a test says: before, on the way back, or twice. */
import { createServer, request, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';

/** The way an exchange is disturbed. */
export type Break = 'pass' | 'drop request' | 'drop answer' | 'cut answer' | 'double' | 'delay';

export class Proxy {
  private server: Server | null = null;
  private port = 0;
  /** Asked for every write to a journal; everything else passes. */
  breaks: (n: number) => Break = () => 'pass';
  writes = 0;
  /** Addresses that cannot be reached. */
  blocked: RegExp | null = null;

  constructor(private readonly target: () => string) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    this.server = createServer((req, res) => void this.pass(req, res));
    await new Promise<void>((r) => this.server!.listen(0, '127.0.0.1', r));
    this.port = (this.server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    this.server?.closeAllConnections();
    await new Promise<void>((r) => this.server?.close(() => r()));
  }

  private async pass(req: IncomingMessage, res: ServerResponse): Promise<void> {
    if (this.blocked?.test(req.url ?? '')) return void res.destroy();
    const isWrite = req.method === 'POST' && /\/actions$/.test(req.url ?? '');
    const how = isWrite ? this.breaks(++this.writes) : 'pass';
    const body = await read(req);
    if (how === 'drop request') return void res.destroy();
    if (how === 'double') await this.ask(req, body).catch(() => {});
    if (how === 'delay') await new Promise((r) => setTimeout(r, 300));
    if (!isWrite && req.url?.startsWith('/api/events')) return this.stream(req, res);
    try {
      const { status, headers, bytes } = await this.ask(req, body);
      if (how === 'drop answer') return void res.destroy();
      res.writeHead(status, headers);
      if (how === 'cut answer') {
        res.write(bytes.subarray(0, Math.floor(bytes.length / 2)));
        setTimeout(() => res.destroy(), 20);
      } else res.end(bytes);
    } catch {
      res.destroy();
    }
  }

  private ask(
    req: IncomingMessage,
    body: Buffer,
  ): Promise<{ status: number; headers: Record<string, string | string[] | undefined>; bytes: Buffer }> {
    return new Promise((resolve, reject) => {
      const out = request(
        this.target() + req.url,
        { method: req.method, headers: { ...req.headers, connection: 'close' } },
        (answer) => {
          read(answer).then(
            (bytes) => resolve({ status: answer.statusCode!, headers: answer.headers, bytes }),
            reject,
          );
        },
      );
      out.on('error', reject);
      out.end(body);
    });
  }

  private stream(req: IncomingMessage, res: ServerResponse): void {
    const out = request(this.target() + req.url, { headers: req.headers }, (answer) => {
      res.writeHead(answer.statusCode!, answer.headers);
      answer.pipe(res);
      answer.on('error', () => res.destroy());
    });
    out.on('error', () => res.destroy());
    res.on('close', () => out.destroy());
    out.end();
  }
}

function read(from: IncomingMessage): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    from.on('data', (d: Buffer) => parts.push(d));
    from.on('end', () => resolve(Buffer.concat(parts)));
    from.on('error', reject);
    from.on('aborted', () => reject(new Error('aborted')));
  });
}
