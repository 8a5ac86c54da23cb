/** The elements of an SVG drawing as a tree, read by an XML parser, each with its line and what it inherits. */
import { SaxesParser } from 'saxes';
import { OperationError } from '../mesh/errors';

export interface SvgElement {
  /** Local name; `svg:rect` and `rect` are the same. */
  name: string;
  attributes: Readonly<Record<string, string>>;
  /** Declarations of its style attribute. */
  style: Readonly<Record<string, string>>;
  children: SvgElement[];
  /** Line its tag begins on, from 1. */
  line: number;
}

export interface SvgTree {
  root: SvgElement;
  byId: ReadonlyMap<string, SvgElement>;
}

const XLINK = 'http://www.w3.org/1999/xlink';
/** Elements in elements; more are no drawing. */
const DEEPEST = 500;

/** @throws OperationError `bad-svg` with the line where the text is not well-formed, or not SVG */
export function svgTree(text: string): SvgTree {
  const parser = new SaxesParser({ xmlns: true, additionalNamespaces: { xlink: XLINK } });
  const byId = new Map<string, SvgElement>();
  const open: SvgElement[] = [];
  let root: SvgElement | undefined;
  let line = 1;
  parser.on('doctype', (doctype) => {
    // Some programs write namespaces as entities.
    for (const [, name, value] of doctype.matchAll(/<!ENTITY\s+([\w.-]+)\s+["']([^"'&<]*)["']\s*>/g))
      parser.ENTITIES[name] = value;
  });
  parser.on('opentagstart', () => (line = parser.line));
  parser.on('opentag', ({ local, attributes: given }) => {
    const attributes: Record<string, string> = {};
    for (const { prefix, local: key, uri, value } of Object.values(given))
      if (!prefix) attributes[key] = value;
      else if (uri === XLINK) attributes[`xlink:${key}`] = value;
    const element = { name: local, attributes, style: declarations(attributes.style), children: [], line };
    open.at(-1)?.children.push(element);
    root ??= element;
    if (attributes.id && !byId.has(attributes.id)) byId.set(attributes.id, element);
    open.push(element);
    if (open.length > DEEPEST) throw refused(`line ${line}: elements are nested more than ${DEEPEST} deep`);
  });
  parser.on('closetag', () => open.pop());
  parser.on('error', (e) => {
    // “3:14: unclosed tag: g” — line, column, reason.
    const [, at, reason] = /^(\d+):\d+: (.*?)\.?$/s.exec(e.message) ?? [null, line, e.message];
    throw refused(`line ${at}: ${reason}`);
  });
  parser.write(text.replace(/^\uFEFF/, '')).close();
  if (root?.name !== 'svg')
    throw new OperationError('bad-svg', 'This is not an SVG drawing: it has no <svg>.');
  return { root, byId };
}

/** The declarations of a style attribute, by property. */
function declarations(style = ''): Record<string, string> {
  const out: Record<string, string> = {};
  for (const part of style.split(';')) {
    const [property, value] = part.split(/:(.*)/s);
    if (value !== undefined) out[property.trim()] = value.replace(/!important/, '').trim();
  }
  return out;
}

/** An element's own value of a property; its style overrides its attribute. */
export const said = (e: SvgElement, property: string): string | undefined => {
  const value = e.style[property] ?? e.attributes[property];
  return value === 'inherit' ? undefined : value;
};

export const refused = (what: string): OperationError =>
  new OperationError(
    'bad-svg',
    `The drawing cannot be read: ${what}.`,
    undefined,
    'Save the drawing again, or leave that element out.',
  );

/** @throws OperationError `bad-svg` that names an element, its line and one of its attributes */
export function refuse(e: SvgElement, attribute: string, why: string): never {
  throw refused(`line ${e.line}, <${e.name}> ${attribute}: ${why}`);
}
