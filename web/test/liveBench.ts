/**
 * The Bench without a browser: the real scene, builder, stage and hands, over a screen that draws nothing. A file of
 * tests that uses it replaces the screens, before all imports:
 *
 *     vi.mock('../src/viewport/screens', () => import('./noScreens'));
 */
import { vi } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import type { SceneState } from '@urnsmith/core/document/scene';
import { documentOf } from '@urnsmith/core/document/sections';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Scene } from '../src/app/Scene';
import { drawnNormals } from '../src/hands/drawnNormals';
import { gradientOf } from '../src/hands/gradient';
import { handsHost } from '../src/hands/benchHands';
import type { HandsHost } from '../src/hands/HandsHost';
import { modeOn } from '../src/modes';
import { opened } from '../src/state/documentSlice';
import { handActions, type Level } from '../src/state/handSlice';
import { Outgoing } from '../src/state/outgoing';
import type { RootState } from '../src/state/store';
import { Stage } from '../src/viewport/Stage';
import { Vector3 } from 'three';
import { stagePieces, stageSettings, type LastShown } from '../src/views/bench/stageContents';
import { Builder } from '../src/workers/Builder';
import { Builds, type OpenPool } from '../src/workers/builds';
import { patchOf } from '../src/workers/piecesPatch';
import { BOX } from './noScreens';

/** One builder in the test's own thread; its answers come one by one. */
const poolHere =
  (kernel: Promise<unknown>): OpenPool =>
  (onAnswer) => {
    const builder = new Builder(kernel);
    let given: Piece[] | null = null;
    let last: Promise<unknown> = Promise.resolve();
    let open = 0;
    const inTurn = <T>(f: () => Promise<T>): Promise<T> => {
      open++;
      const answer = last.then(f).finally(() => open--);
      last = answer;
      return answer;
    };
    const patchTo = (pieces: Piece[]) => {
      const patch = patchOf(given, pieces);
      given = pieces;
      return patch;
    };
    return {
      request(pieces, id, upTo, want) {
        void inTurn(async () => {
          const answers = await builder.build(patchTo(pieces), [{ id, upTo, want }]);
          for (const [piece, answer] of answers) onAnswer(piece, answer);
        });
      },
      ask: (pieces, id, upTo, question) => inTurn(() => builder.ask(patchTo(pieces), id, upTo, question)),
      prepare: (pieces, id, moving) => inTurn(() => builder.prepare(patchTo(pieces), id, moving)),
      cancel: () => {},
      close: () => {},
      get idle() {
        return !open;
      },
    };
  };

export class LiveBench {
  readonly scene: Scene;
  readonly stage = new Stage();
  readonly host: HandsHost;
  /** The texts that the hands showed beside the pointer, and the places where they opened menus. */
  readonly said: string[] = [];
  readonly menus: Array<[number, number]> = [];
  private readonly shown: LastShown = new Map();

  private constructor(pieces: Piece[]) {
    this.scene = new Scene('s', new Outgoing(), new Builds(poolHere(loadKernel())));
    const state: SceneState = {
      id: 's',
      name: 'Scene',
      seq: 0,
      head: '-',
      document: documentOf(pieces),
      undo: [],
      redo: [],
      more: false,
      damage: null,
    } as never;
    this.scene.store.dispatch(opened(state));
    this.scene.showOn(this.stage);
    this.stage.resize(BOX.width, BOX.height);
    this.host = handsHost(
      this.scene,
      this.stage,
      {
        rubber: () => {},
        lasso: () => {},
        say: (text) => this.said.push(text),
        menu: (x, y) => this.menus.push([x, y]),
      },
      () => modeOn(this.state)?.does ?? null,
    );
  }

  /** Pieces at the Bench, all of them built, seen square-on from the front, one millimetre in ten pixels. */
  static async open(...pieces: Piece[]): Promise<LiveBench> {
    vi.stubGlobal('requestAnimationFrame', (f: () => void) => setTimeout(f, 0));
    vi.stubGlobal('cancelAnimationFrame', clearTimeout);
    vi.stubGlobal('window', { devicePixelRatio: 1 });
    const bench = new LiveBench(pieces);
    const { rig } = bench.stage;
    bench.scene.store.dispatch({ type: 'view/parallelSet', payload: true });
    rig.look('front');
    rig.parallel = true;
    rig.distance *= 0.1 / rig.pixelSize(rig.target);
    await bench.rest();
    return bench;
  }

  get state(): RootState {
    return this.scene.store.getState();
  }
  piece(id: string): Piece {
    return this.state.document.pieces.find((p) => p.id === id)!;
  }

  /** Waits until all that was asked for is built, and shows it. */
  async rest(): Promise<void> {
    const { scene, stage } = this;
    for (let calm = 0; calm < 3; calm++) {
      await new Promise((next) => setTimeout(next, 1));
      if (!scene.builds.idle) calm = 0;
      const { parallel } = stage.rig;
      stage.show(
        stagePieces(this.state, scene.builds, this.shown),
        stageSettings(this.state, scene.builds, gradientOf(scene), drawnNormals(scene)),
      );
      stage.rig.parallel = parallel;
    }
    stage.draw();
  }

  /** Takes pieces in hand, at a level. */
  async hold(level: Level, ...ids: string[]): Promise<void> {
    this.scene.store.dispatch(handActions.selected({ ids }));
    await this.rest();
    this.scene.store.dispatch(handActions.levelTaken(level));
    await this.rest();
  }

  /** Client pixels at which a place in the world is drawn. */
  at(x: number, y: number, z: number): [number, number] {
    const p = this.stage.project(new Vector3(x, y, z))!;
    return [p.x + BOX.left, p.y + BOX.top];
  }

  /** A click on an element drawn at a place in the world, or beside all. */
  async click(place: [number, number, number], add = false): Promise<void> {
    const [x, y] = this.at(...place);
    this.host.elements.click(this.host.elements.at(x, y), add, x, y);
    await this.rest();
  }
}
