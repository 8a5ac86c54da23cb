// npm run glyphs: takes the letters of the shipped font as outlines that do not overlap, for the primitive "text".
// Strokes of a font's letters cross one another. They are united on fine polygons, and each run along one curve is
// written as the piece of that curve it is, so that text can be made as fine as is asked for.
import { execFileSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import manifold from 'manifold-3d';
import { root } from './ensure.mjs';

const PACKAGES = ['fontkit@2', '@fontsource/instrument-sans@5'];
// Only needed here, so they are no packages of the project.
execFileSync('npm', ['install', '--no-save', '--no-audit', '--no-fund', ...PACKAGES], {
  cwd: root,
  stdio: 'inherit',
});
const require = createRequire(join(root, 'package.json'));
const fontkit = require('fontkit');
const folder = dirname(require.resolve('@fontsource/instrument-sans/package.json'));
const font = fontkit.create(readFileSync(join(folder, 'files/instrument-sans-latin-600-normal.woff2')));

/** Sides each curve is cut in to be united. */
const FINE = 32;
/** Font units points may be off after uniting. */
const NEAR = 0.02;

const wasm = await manifold();
wasm.setup();

/** Curves of a glyph: start, control, end; straight ones have no control. */
function curvesOf(glyph) {
  const contours = [];
  let at = [0, 0];
  let start = at;
  for (const { command, args } of glyph.path.commands) {
    if (command === 'moveTo') {
      contours.push([]);
      start = at = args;
    } else if (command === 'lineTo' || command === 'closePath') {
      const to = command === 'closePath' ? start : args;
      if (Math.hypot(to[0] - at[0], to[1] - at[1]) > NEAR) contours.at(-1).push({ a: at, b: to });
      at = to;
    } else if (command === 'quadraticCurveTo') {
      const to = args.slice(2);
      contours.at(-1).push({ a: at, c: args.slice(0, 2), b: to });
      at = to;
    } else throw new Error(`No ${command} is expected.`);
  }
  return contours.filter((c) => c.length);
}

const pointAt = ({ a, b, c }, t) =>
  [0, 1].map((k) =>
    c ? (1 - t) ** 2 * a[k] + 2 * t * (1 - t) * c[k] + t * t * b[k] : a[k] + (b[k] - a[k]) * t,
  );

/** The part of a curve from one parameter to another (de Casteljau), with ends as given. */
function partOf(curve, t0, t1, from, to) {
  if (!curve.c) return { a: from, b: to };
  const { a, b, c } = curve;
  const control = [0, 1].map(
    (k) => (1 - t0) * (1 - t1) * a[k] + (t0 * (1 - t1) + t1 * (1 - t0)) * c[k] + t0 * t1 * b[k],
  );
  return { a: from, c: control, b: to };
}

/** The outline of a glyph without overlaps, as curves. */
function united(glyph) {
  const contours = curvesOf(glyph);
  const pieces = [];
  const polygons = contours.map((curves) =>
    curves.flatMap((curve) => {
      const n = curve.c ? FINE : 1;
      return Array.from({ length: n }, (_, i) => {
        const [p, q] = [pointAt(curve, i / n), pointAt(curve, (i + 1) / n)];
        pieces.push({ curve, t0: i / n, t1: (i + 1) / n, p, q });
        return p;
      });
    }),
  );
  if (!polygons.length) return [];
  const whole = new wasm.CrossSection(polygons, 'NonZero');
  const out = whole.toPolygons().filter((loop) => Math.abs(area(loop)) > 20);
  whole.delete();
  return out.map((loop) => {
    const edges = loop.map((p, i) => sourceOf(pieces, p, loop[(i + 1) % loop.length]));
    // Begin where one curve ends and the next begins.
    const first = edges.findIndex((e, i) => e.curve !== edges.at(i - 1).curve);
    const turned = [...edges.slice(first), ...edges.slice(0, first)];
    const runs = [];
    for (const e of turned) {
      const last = runs.at(-1);
      if (last && last.curve === e.curve && Math.abs(last.t1 - e.t0) < 1e-3) {
        last.t1 = e.t1;
        last.to = e.to;
      } else runs.push({ ...e });
    }
    return runs.map(({ curve, t0, t1, from, to }) => partOf(curve, t0, t1, from, to));
  });
}

/** The curve an edge of the united outline lies on, with its parameters there; itself where it lies on several. */
function sourceOf(pieces, from, to) {
  let best = null;
  for (const s of pieces) {
    const d = [s.q[0] - s.p[0], s.q[1] - s.p[1]];
    const l2 = d[0] ** 2 + d[1] ** 2;
    const on = (x) => {
      const u = ((x[0] - s.p[0]) * d[0] + (x[1] - s.p[1]) * d[1]) / l2;
      return { u, off: Math.hypot(x[0] - s.p[0] - u * d[0], x[1] - s.p[1] - u * d[1]) };
    };
    const [x, y] = [on(from), on(to)];
    const slack = NEAR / Math.sqrt(l2);
    const off = Math.max(x.off, y.off);
    if (off > NEAR || Math.min(x.u, y.u) < -slack || Math.max(x.u, y.u) > 1 + slack) continue;
    if (!best || off < best.off) best = { off, curve: s.curve, t0: s.t0 + x.u * (s.t1 - s.t0), t1: s.t0 + y.u * (s.t1 - s.t0), from, to }; // prettier-ignore
  }
  // Straight ones in a row became one.
  return best ?? { curve: { a: from, b: to }, t0: 0, t1: 1, from, to };
}

function area(loop) {
  let sum = 0;
  for (let i = 0; i < loop.length; i++) {
    const [p, q] = [loop[i], loop[(i + 1) % loop.length]];
    sum += p[0] * q[1] - q[0] * p[1];
  }
  return sum / 2;
}

const round = (x) => Math.round(x * 10) / 10;
/** `x y` where each curve begins, with `cx cy` before it where it is bent: `M` starts a contour, `L` and `Q` as in SVG. */
const written = (contours) =>
  contours
    .map((curves) => {
      const [first] = curves;
      const rest = curves.map(({ c, b }) =>
        c ? `Q${[...c, ...b].map(round).join(' ')}` : `L${b.map(round).join(' ')}`,
      );
      return `M${first.a.map(round).join(' ')}${rest.join('')}`;
    })
    .join('');

const glyphs = {};
const letters = [];
for (const code of [...font.characterSet].sort((a, b) => a - b)) {
  if (code < 32 || code === 127 || code === 0xad) continue;
  const glyph = font.glyphForCodePoint(code);
  const ch = String.fromCodePoint(code);
  letters.push(ch);
  glyphs[ch] = [Math.round(glyph.advanceWidth), written(united(glyph))];
}
/** By how much pairs of letters stand closer, font units. */
const kerning = {};
const common = letters.filter((ch) => ch < '\u007f' && ch !== ' ');
for (const a of common)
  for (const b of common) {
    const { positions, glyphs: shaped } = font.layout(a + b);
    if (shaped.length !== 2) continue;
    const closer = Math.round(positions[0].xAdvance - glyphs[a][0]);
    if (closer) kerning[a + b] = closer;
  }

const text = JSON.stringify({ em: font.unitsPerEm, capHeight: font.capHeight, glyphs, kerning });
writeFileSync(join(root, 'core/src/primitives/letters/glyphs.json'), `${text}\n`);
writeFileSync(join(root, 'core/src/primitives/letters/LICENSE.txt'), readFileSync(join(folder, 'LICENSE')));
console.log(`${letters.length} letters, ${Object.keys(kerning).length} pairs, ${text.length} bytes`);
