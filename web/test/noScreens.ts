/** In the place of `viewport/screens`: a canvas in a window, and a renderer that draws nothing. */
import { Looks } from '../src/viewport/looks';

/** The canvas in its window, pixels. */
export const BOX = { left: 100, top: 50, width: 800, height: 600 };

export const takeScreen = () => ({
  canvas: {
    getBoundingClientRect: () => BOX,
    clientWidth: BOX.width,
    clientHeight: BOX.height,
    style: {},
    setPointerCapture: () => {},
  },
  renderer: { render: () => {}, setSize: () => {}, compileAsync: () => Promise.resolve(), info: {} },
  looks: new Looks(),
});
export const leaveScreen = (): void => {};
