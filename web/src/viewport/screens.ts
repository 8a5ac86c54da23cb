/**
 * Canvases with their renderers. A screen outlives the stage that draws on it: a new graphics context and its shaders
 * take longer than all else a view does when it opens.
 */
import { ACESFilmicToneMapping, Color, SRGBColorSpace, WebGLRenderer } from 'three';
import { Looks } from './looks';

export interface Screen {
  canvas: HTMLCanvasElement;
  renderer: WebGLRenderer;
  /** Its materials, with their compiled shaders. */
  looks: Looks;
}

/** Screens that no stage draws on. */
const idle: Screen[] = [];

/** A screen for one stage; it is to be given back with {@link leaveScreen}. */
export function takeScreen(): Screen {
  const screen = idle.pop() ?? makeScreen();
  screen.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
  return screen;
}

/** Keeps a screen for the next stage, as if nothing had been drawn on it. */
export function leaveScreen(screen: Screen): void {
  const { canvas, renderer } = screen;
  canvas.remove();
  for (const { name } of [...canvas.attributes]) canvas.removeAttribute(name);
  renderer.renderLists.dispose();
  if (renderer.getContext().isContextLost()) renderer.dispose();
  else idle.push(screen);
}

function makeScreen(): Screen {
  const canvas = document.createElement('canvas');
  const renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
  // Asking for a shader's log waits until it is compiled; drawing does not.
  renderer.debug.checkShaderErrors = false;
  renderer.outputColorSpace = SRGBColorSpace;
  renderer.toneMapping = ACESFilmicToneMapping;
  renderer.toneMappingExposure = 0.92;
  renderer.setClearColor(new Color('#000000'), 0);
  return { canvas, renderer, looks: new Looks() };
}
