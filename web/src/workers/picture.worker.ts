/** Makes the picture on a scene's card out of what the stage drew: reading that back takes its time, so not on the page. */
import * as Comlink from 'comlink';

const api = {
  /** @returns a PNG of the drawn frame on the card's ground, filled and cropped evenly */
  async card(drawn: ImageBitmap, width: number, height: number): Promise<Blob> {
    const out = new OffscreenCanvas(width, height);
    const c = out.getContext('2d')!;
    const g = c.createRadialGradient(width / 2, height * 0.25, 10, width / 2, height * 0.3, width * 0.8);
    g.addColorStop(0, '#3a4a4a');
    g.addColorStop(1, '#1a2324');
    c.fillStyle = g;
    c.fillRect(0, 0, width, height);
    const scale = Math.max(width / drawn.width, height / drawn.height);
    const [w, h] = [drawn.width * scale, drawn.height * scale];
    c.imageSmoothingQuality = 'high';
    c.drawImage(drawn, (width - w) / 2, (height - h) / 2, w, h);
    drawn.close();
    return out.convertToBlob({ type: 'image/png' });
  },
};

export type PictureWorker = typeof api;
Comlink.expose(api);
