/** The canvas, renderer and materials of a stage. Unit tests replace this file with one that draws nothing. */
import { ACESFilmicToneMapping, Color, SRGBColorSpace, WebGLRenderer } from 'three';
import { Looks } from './looks';

export interface Screen {
  canvas: HTMLCanvasElement;
  renderer: WebGLRenderer;
  looks: Looks;
}

/** Makes a screen for one stage. The stage frees it with {@link leaveScreen}. */
export function takeScreen(): Screen {
  const canvas = document.createElement('canvas');
  const renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
  // Asking for a shader's log waits until it is compiled; drawing does not.
  renderer.debug.checkShaderErrors = false;
  renderer.outputColorSpace = SRGBColorSpace;
  renderer.toneMapping = ACESFilmicToneMapping;
  renderer.toneMappingExposure = 0.92;
  renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
  renderer.setClearColor(new Color('#000000'), 0);
  return { canvas, renderer, looks: new Looks() };
}

/**
 * Frees a screen and all it holds. The next stage gets a new one: a canvas that moves in the page can show an old
 * picture.
 */
export function leaveScreen({ canvas, renderer }: Screen): void {
  canvas.remove();
  renderer.dispose();
  renderer.forceContextLoss();
}
