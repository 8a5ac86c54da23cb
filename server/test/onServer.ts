/** A server with a database of its own, and calls to it as a window would make them. */
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { diffDocuments } from '@urnsmith/core/document/patch';
import type { Accepted, SceneAction, SceneState } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { documentOf, piecesOf, withPieces, type SceneDocument } from '@urnsmith/core/document/sections';
import { start, type Running, type StartOptions } from '../src/start';

export const box: Piece = {
  id: 'box',
  name: 'Box',
  base: { primitive: 'box', width: 10, height: 10, depth: 10 },
};

export interface Answered<T = { code: string; message: string; detail?: unknown }> {
  status: number;
  body: T;
}

export class OnServer {
  readonly folder = mkdtempSync(join(tmpdir(), 'urnsmith-server-'));
  readonly database = join(this.folder, 'test.sqlite');
  running!: Running;

  async start(options: Partial<StartOptions> = {}): Promise<this> {
    this.running = await start({ database: this.database, ...options });
    return this;
  }

  async close(): Promise<void> {
    await this.running.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }

  call(path: string, init: RequestInit = {}): Promise<Response> {
    return fetch(this.running.url + path, init);
  }

  post(path: string, body: unknown, headers: Record<string, string> = {}): Promise<Response> {
    return this.call(path, {
      method: 'POST',
      body: typeof body === 'string' ? body : JSON.stringify(body),
      headers: { 'content-type': 'application/json', ...headers },
    });
  }

  async answer<T = { code: string; message: string; detail?: unknown }>(
    r: Promise<Response>,
  ): Promise<Answered<T>> {
    const response = await r;
    return { status: response.status, body: (await response.json()) as T };
  }

  async create(name: string, pieces: Piece[] = [box]): Promise<string> {
    const { status, body } = await this.answer<{ id: string; message: string }>(
      this.post('/api/scenes', { name, document: { pieces } }),
    );
    if (status !== 201) throw new Error(body.message);
    return body.id;
  }

  async open(id: string): Promise<SceneState & { pieces: Piece[] }> {
    const { body } = await this.answer<SceneState>(this.call(`/api/scenes/${id}`));
    return { ...body, pieces: piecesOf(body.document) };
  }

  act(id: string, action: SceneAction): Promise<Answered<Accepted & { code: string; message: string }>> {
    return this.answer(this.post(`/api/scenes/${id}/actions`, action));
  }
}

/** A window at a scene, as far as the protocol goes: what it sees, and what it sends. */
export class Window {
  readonly name = randomUUID();
  document!: SceneDocument;
  base = 0;
  head = '';

  constructor(
    private readonly server: OnServer,
    readonly scene: string,
  ) {}

  async look(): Promise<this> {
    const s = await this.server.open(this.scene);
    this.document = s.document;
    this.base = s.seq;
    this.head = s.head;
    return this;
  }

  get pieces(): Piece[] {
    return piecesOf(this.document);
  }

  /** The request for a change of the pieces; the window shows the change at once. */
  revision(label: string, change: (pieces: Piece[]) => Piece[]): SceneAction {
    const after = withPieces(this.document, change(this.pieces));
    const d = diffDocuments(this.document, after);
    if (!d) throw new Error('nothing changes');
    this.document = after;
    return { id: randomUUID(), window: this.name, base: this.base, kind: 'revision', label, ...d };
  }

  rename(name: string, id = 'box'): SceneAction {
    return this.revision(`Rename to ${name}`, (l) => l.map((p) => (p.id === id ? { ...p, name } : p)));
  }

  async send(action: SceneAction): Promise<Answered<Accepted & { code: string; message: string }>> {
    const a = await this.server.act(this.scene, action);
    if (a.status === 200) this.head = a.body.head;
    return a;
  }

  move(to: string): SceneAction {
    return {
      id: randomUUID(),
      window: this.name,
      base: this.base,
      kind: 'move',
      from: this.head,
      to,
      patch: [],
    };
  }
}

export const documentWith = (...pieces: Piece[]): SceneDocument => documentOf(pieces);
