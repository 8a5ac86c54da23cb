/** What a stage draws on: a canvas with its renderer and materials. Tests of hands put one in its place that draws nothing. */
import { ACESFilmicToneMapping, Color, SRGBColorSpace, WebGLRenderer } from 'three';
import { Looks } from './looks';

export interface Screen {
  canvas: HTMLCanvasElement;
  renderer: WebGLRenderer;
  looks: Looks;
}

/** A screen for one stage; it is to be given back with {@link leaveScreen}. */
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
 * Frees a screen and all it holds. It is not kept for the next stage: a canvas that is moved in the page may show what
 * was drawn on it before.
 */
export function leaveScreen({ canvas, renderer }: Screen): void {
  canvas.remove();
  renderer.dispose();
  renderer.forceContextLoss();
}
