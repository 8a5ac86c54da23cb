/** Outlines from SVG: sizes in millimetres, curves within their tolerance, transforms, holes, and what is left out. */
import { describe, expect, it } from 'vitest';
import { readSvg } from '../src/formats/readSvg';
import { checkMesh } from '../src/mesh/checkMesh';
import { OperationError } from '../src/mesh/errors';
import { volume } from '../src/mesh/measure';
import { signedArea } from '../src/planar/contours';
import { buildPrimitive, primitiveFault } from '../src/primitives';

const drawing = (inside: string, head = 'width="100mm" height="100mm" viewBox="0 0 100 100"'): string =>
  `<?xml version="1.0"?><!-- a > b --><svg xmlns="http://www.w3.org/2000/svg" ${head}>${inside}</svg>`;
const area = (svg: string, options = {}): number =>
  readSvg(svg, options).contours.reduce((sum, c) => sum + Math.abs(signedArea(c)) / 2, 0);

describe('an SVG drawing', () => {
  it('comes in millimetres whatever its units, about its middle, right way up', () => {
    const shape = '<path d="M10 10h40v20h-20v10h-20z"/>';
    const { contours, width, height } = readSvg(drawing(shape));
    expect([width, height]).toEqual([40, 30]);
    expect(contours).toEqual([[[-20, 15], [20, 15], [20, -5], [0, -5], [0, -15], [-20, -15]]]);
    expect(readSvg(drawing(shape, 'width="10cm" viewBox="0 0 50 50"')).width).toBeCloseTo(80, 9);
    expect(readSvg(drawing(shape, 'width="2in" viewBox="0 0 100 100"')).width).toBeCloseTo(40 * 0.508, 9);
    expect(readSvg(drawing(shape, '')).width).toBeCloseTo(40 * (25.4 / 96), 9);
    expect(readSvg(drawing(shape), { size: 120 })).toMatchObject({ width: 120, height: 90 });
  }); // prettier-ignore

  it('has curves as near as the tolerance, and no more points than that takes', () => {
    const exact = Math.PI * 20 * 10;
    for (const circle of [
      '<ellipse cx="50" cy="50" rx="20" ry="10"/>',
      '<path d="M30 50A20 10 0 0 1 70 50A20 10 0 0 1 30 50Z"/>',
      '<path d="M30,50a20 10 0 1140 0a20 10 0 11-40 0z"/>',
    ])
      for (const tolerance of [0.5, 0.05, 0.005]) {
        const { contours } = readSvg(drawing(circle), { tolerance });
        expect(Math.abs(area(drawing(circle), { tolerance }) - exact)).toBeLessThan(2 * Math.PI * 20 * tolerance);
        expect(contours[0].length).toBeLessThan(20 + 12 / Math.sqrt(tolerance));
      }
    // A cubic against its closed form: 3/20 of the sum over its handles gives 3/5 of the rectangle's height.
    const arch = '<path d="M10 50C10 10 60 10 60 50Z"/>';
    expect(area(drawing(arch), { tolerance: 0.001 })).toBeCloseTo(0.6 * 50 * 40, 0);
    // The same by a quadratic: two thirds of its triangle.
    expect(area(drawing('<path d="M10 50Q35 0 60 50Z"/>'), { tolerance: 0.001 })).toBeCloseTo((2 / 3) * 0.5 * 50 * 50, 0);
    expect(area(drawing('<path d="M0 0Q5 10 10 0T20 0V-30H0Z"/>'), { tolerance: 0.001 })).toBeCloseTo(600, 1);
  }); // prettier-ignore

  it('follows transforms, one in another', () => {
    const nested = '<g transform="translate(10 20) rotate(90)"><g transform="scale(2,1)"><rect width="10" height="5" transform="skewX(30)"/></g></g>';
    expect(area(drawing(nested))).toBeCloseTo(100, 6);
    const turned = readSvg(drawing('<rect x="10" y="10" width="30" height="10" transform="rotate(90 25 15)"/>'));
    expect([turned.width, turned.height]).toEqual([expect.closeTo(10, 9), expect.closeTo(30, 9)]);
  }); // prettier-ignore

  it('becomes a body with holes, closed, of the right size', () => {
    const washer = drawing('<path d="M10 10H70V70H10Z M25 40a15 15 0 1 0 30 0a15 15 0 1 0 -30 0z"/><circle cx="40" cy="40" r="5"/>'); // prettier-ignore
    const { contours } = readSvg(washer, { tolerance: 0.001 });
    const p = { primitive: 'outline' as const, contours, height: 3 };
    expect(primitiveFault(p)).toBeNull();
    const mesh = buildPrimitive(p);
    expect(checkMesh(mesh).findings).toEqual([]);
    expect(volume(mesh) / 3).toBeCloseTo(3600 - Math.PI * 225 + Math.PI * 25, 0);
  });

  it('leaves out what is no outline and says so, and refuses what is no drawing', () => {
    const { contours, left } = readSvg(
      drawing(
        '<defs><rect width="5" height="5"/></defs><text>Hi</text><text>Ho</text><line x2="9"/><path fill="none" d="M0 0L5 5L9 0"/><g display="none"><rect width="3" height="3"/></g><rect width="8" height="8" rx="2"/>',
      ),
    );
    expect(contours).toHaveLength(1);
    expect(left).toEqual(['2 texts', '1 line', '1 open line']);
    const refusal = (text: string): string => {
      try {
        readSvg(text);
        return 'read';
      } catch (e) {
        expect(e).toBeInstanceOf(OperationError);
        return (e as OperationError).message;
      }
    };
    expect(refusal('<html></html>')).toBe('This is no SVG drawing: it has no <svg>.');
    expect(refusal(drawing('<text>Hi</text>'))).toBe('The drawing has no closed outlines; it has 1 text.');
    expect(refusal(drawing('<path d="M0 0L5"/>'))).toBe('A path of the drawing cannot be read: “L” lacks numbers at the end.'); // prettier-ignore
    expect(refusal(drawing('<path d="M0 0X5 5"/>'))).toMatch(/there is no command “X”/);
    expect(refusal(drawing('<path d="5 5L0 0"/>'))).toMatch(/a number without a command/);
  });
});
