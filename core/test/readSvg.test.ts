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
    expect(refusal('<html></html>')).toBe('This is not an SVG drawing: it has no <svg>.');
    expect(refusal(drawing('<text>Hi</text>'))).toBe('The drawing has no closed outlines; it has 1 text.');
    expect(refusal(drawing('<path d="M0 0L5"/>'))).toMatch(/line 1, <path> d: Unterminated command/);
    expect(refusal(drawing('<path d="M0 0X5 5"/>'))).toMatch(/line 1, <path> d: .*“?"?X/);
    expect(refusal(drawing('<path d="5 5L0 0"/>'))).toMatch(/line 1, <path> d: it does not begin with “M”/);
  });

  it('refuses numbers that are none, or not finite, with their line and attribute', () => {
    for (const [inside, message] of [
      ['\n<path d="M0 0L1e999 0L5 5z"/>', /line 2, <path> d: a number in it is too large/],
      ['<polygon points="0,0 5,5 7"/>', /<polygon> points: Unterminated/],
      ['<polygon points="0,0 a,5 7,7"/>', /<polygon> points: it is not a list of numbers/],
      ['<rect width="wide" height="3"/>', /<rect> width: “wide” is not a length/],
      ['<rect width="1e400" height="3"/>', /<rect> width: “1e400” is too large/],
      ['<rect width="3em" height="3"/>', /<rect> width: the unit “em” is not known here; use mm/],
      ['<rect width="3" height="3" transform="scale(1e400)"/>', /<rect> transform: .*not finite/],
      [
        '<rect width="3" height="3" transform="wind(3)"/>',
        /<rect> transform: “wind\(3\)” is not a list of transforms/,
      ],
      [
        '<g transform="scale(1e200)"><rect transform="scale(1e200)" width="3" height="3"/></g>',
        /out of all bounds/,
      ],
      ['<g><rect width="3" height="3"/>', /line 1: unclosed tag: g|unexpected close tag/],
    ] as const)
      expect(() => readSvg(drawing(inside)), inside).toThrow(message);
    expect(() => readSvg(drawing('<rect width="3" height="3"/>', 'viewBox="0 0 5"'))).toThrow(/viewBox: “0 0 5” is not four numbers/); // prettier-ignore
  });

  it('reads numbers that stand side by side, and exponents', () => {
    const { contours } = readSvg(drawing('<polygon points="0,0 10-5 10,5"/>'));
    expect(contours).toEqual([[[-5, 0], [5, 5], [5, -5]]]);
    // One at the origin as a mark, the other moved.
    const mark = '<rect width="1" height="1"/>';
    const moved = (transform: string): number[] => {
      const { width, height } = readSvg(drawing(`${mark}<rect width="1" height="1" transform="${transform}"/>`));
      return [width, height];
    };
    expect(moved('translate(10-5)')).toEqual([11, 6]);
    expect(moved('translate(1e1-.5e1)')).toEqual([11, 6]);
    expect(moved('translate(.5.5)')).toEqual([1.5, 1.5]);
    expect(moved('scale(2) translate(3,2)')).toEqual([8, 6]);
    expect(readSvg(drawing('<rect width="5" height="5"/>', 'width="1e2mm" viewBox="0 0 10 10"')).width).toBeCloseTo(50, 9);
  }); // prettier-ignore

  it('has lengths in their units, and percentages of what is looked at', () => {
    const page = 'width="200mm" height="100mm"';
    const size = (shape: string, head = page): number[] => {
      const { width, height } = readSvg(drawing(shape, head), { tolerance: 0.0001 });
      return [width, height].map((x) => Number(x.toFixed(3)));
    };
    expect(size('<rect width="20mm" height="1cm"/>')).toEqual([20, 10]);
    expect(size('<rect width="1in" height="72pt"/>')).toEqual([25.4, 25.4]);
    expect(size('<rect width="96px" height="6pc"/>')).toEqual([25.4, 25.4]);
    expect(size('<rect width="50%" height="50%"/>')).toEqual([100, 50]);
    expect(size('<ellipse cx="5" cy="5" rx="10mm" ry="2mm"/>')).toEqual([20, 4]);
    // In a viewBox a millimetre is as many units as there are CSS pixels in one.
    expect(size('<rect width="1mm" height="25%"/>', `${page} viewBox="0 0 100 50"`)).toEqual([7.559, 25]);
  });

  it('fits its viewBox into its size as it is asked to', () => {
    const shape = '<rect width="10" height="10"/>';
    const size = (how: string): number[] => {
      const { width, height } = readSvg(
        drawing(shape, `width="100mm" height="50mm" viewBox="0 0 10 10" ${how}`),
      );
      return [width, height].map((x) => Number(x.toFixed(6)));
    };
    expect(size('')).toEqual([50, 50]);
    expect(size('preserveAspectRatio="none"')).toEqual([100, 50]);
    expect(size('preserveAspectRatio="xMinYMax slice"')).toEqual([100, 100]);
    // A drawing in a drawing, at its right, beside a mark at its left.
    const nested = (fit: string): number =>
      readSvg(drawing(`<rect width="1" height="1"/><svg x="10" width="40" height="10" viewBox="0 0 1 1" preserveAspectRatio="${fit}"><rect width="1" height="1"/></svg>`)).width; // prettier-ignore
    const right = ['xMinYMid', 'xMidYMid', 'xMaxYMid'].map(nested);
    expect(right.map((x) => Number(x.toFixed(6)))).toEqual([20, 35, 50]);
  });

  it('knows what is inherited: fill, what is not displayed, and what is hidden', () => {
    const line = '<path d="M0 0L5 5L9 0"/>';
    const box = '<rect width="3" height="3"/>';
    const found = (inside: string): [number, string[]] => {
      const { contours, left } = readSvg(drawing(`${inside}<rect width="90" height="90"/>`));
      return [contours.length - 1, left];
    };
    expect(found(line)).toEqual([1, []]);
    expect(found(`<g fill="none">${line}</g>`)).toEqual([0, ['1 open line']]);
    expect(found(`<g style="fill: none">${line}<g fill="red">${line}</g></g>`)).toEqual([1, ['1 open line']]);
    expect(found(`<g fill="red" style="fill:none">${line}</g>`)).toEqual([0, ['1 open line']]);
    expect(found(`<g style="display:none">${box}<g display="inline">${box}</g></g>`)).toEqual([0, []]);
    expect(found(`<g visibility="hidden">${box}<g visibility="visible">${box}</g></g>`)).toEqual([1, []]);
    expect(found(`<style>.a { fill: none }</style>${box}`)).toEqual([1, ['1 style sheet']]);
  });

  it('draws what is used, where and as large as it is used, and no circle of uses', () => {
    const parts = '<defs><rect id="r" width="2" height="2"/><symbol id="s" viewBox="0 0 1 1"><rect width="1" height="1"/></symbol></defs>';
    const read = (inside: string) => readSvg(drawing(parts + inside));
    const twice = read('<use href="#r" x="10"/><use xmlns:x="http://www.w3.org/1999/xlink" x:href="#r" y="-5" transform="scale(2)"/>');
    expect([twice.contours.length, twice.width, twice.height]).toEqual([2, 12, 12]);
    expect(read('<use href="#s" width="30" height="40"/>')).toMatchObject({ width: 30, height: 30 });
    expect(read('<use href="#r"/><use href="#nothing"/><use href="other.svg#r"/>').left).toEqual(['2 uses of something that is not in the file']);
    expect(() => read('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>')).toThrow(/leads back to itself/);
    // Each level uses the one below ten times: a million copies.
    const levels = Array.from({ length: 6 }, (_, k) => `<g id="l${k + 1}">${`<use href="#${k ? `l${k}` : 'r'}"/>`.repeat(10)}</g>`);
    expect(() => read(`<defs>${levels.join('')}</defs><use href="#l6"/>`)).toThrow(/draws more than 50000 elements/);
  }); // prettier-ignore

  it('is XML: entities, character data, prefixes, and a refusal with the line where it is broken', () => {
    const svg = `<?xml version="1.0"?>\n<!DOCTYPE svg [<!ENTITY ns "http://www.w3.org/2000/svg">]>\n<s:svg xmlns:s="&ns;" width="10mm" viewBox="0 0 10 10"><s:desc><![CDATA[<rect width="99" height="99"/>]]></s:desc><s:rect width="&#53;" height='5'/></s:svg>`;
    expect(readSvg(svg)).toMatchObject({ width: expect.closeTo(5, 9), height: expect.closeTo(5, 9), left: [] });
    expect(() => readSvg('<svg xmlns="http://www.w3.org/2000/svg">\n<g>\n</svg>')).toThrow(/line 3: unexpected close tag/);
    expect(() => readSvg('<svg>\n<rect width=5 /></svg>')).toThrow(/line 2: unquoted attribute value/);
    const deep = drawing(`${'<g>'.repeat(600)}${'</g>'.repeat(600)}`);
    expect(() => readSvg(deep)).toThrow(/nested more than 500 deep/);
  }); // prettier-ignore
});
