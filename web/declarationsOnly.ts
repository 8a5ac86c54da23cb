/**
 * A Vite plugin for the page alone: of operations, steps, primitives, formats and settings it takes the declaration (title, parameters,
 * fields, handles, example) and leaves out the work, which only workers and the server do. So each of them stays one
 * file, and the page loads none of the geometry.
 */
import type { Plugin } from 'vite';

/** Members of each declaration that only workers call. */
const WORK: Record<string, readonly string[]> = {
  defineOperation: ['run', 'pulls', 'faces'],
  defineStep: ['run', 'taken', 'prepare'],
  definePrimitive: ['build'],
  defineFormat: ['write', 'read'],
  defineSetting: ['faults'],
};

/** As much of ESTree as is looked at. */
interface Node {
  type: string;
  start: number;
  end: number;
  name?: string;
  callee?: Node;
  body?: Node[];
  specifiers?: Array<Node & { local: Node }>;
  arguments?: Node[];
  properties?: Array<Node & { key: Node }>;
}

export function declarationsOnly(): Plugin {
  return {
    name: 'declarations-only',
    apply: 'build',
    enforce: 'post',
    transform: {
      filter: {
        id: /\/core\/src\/(ops|steps|primitives|formats|settings)\//,
        code: /define(Operation|Step|Primitive|Format|Setting)\(/,
      },
      handler(code) {
        const cuts: Array<[start: number, end: number, name: string]> = [];
        walk(this.parse(code) as unknown as Node, (node) => {
          const work = node.type === 'CallExpression' && WORK[node.callee?.name ?? ''];
          if (!work) return;
          for (const p of node.arguments?.[0]?.properties ?? [])
            if (work.includes(p.key?.name ?? '')) cuts.push([p.start, p.end, p.key.name!]);
        });
        if (!cuts.length) return null;
        let out = code;
        for (const [start, end, name] of cuts.sort((a, b) => b[0] - a[0]))
          out = `${out.slice(0, start)}${name}() { throw new Error('Only workers do this.'); }${out.slice(end)}`;
        return { code: withoutIdleImports(out, (text) => this.parse(text) as unknown as Node), map: null };
      },
    },
  };
}

/** Drops imports that only the work used, so that their modules are not even looked at. */
function withoutIdleImports(code: string, parse: (text: string) => Node): string {
  const imports = (parse(code).body ?? []).filter(
    (n) => n.type === 'ImportDeclaration' && n.specifiers?.length,
  );
  const rest = imports.reduceRight((text, n) => text.slice(0, n.start) + text.slice(n.end), code);
  const used = new Set(rest.match(/[A-Za-z_$][\w$]*/g));
  return imports
    .filter((n) => !n.specifiers!.some(({ local }) => used.has(local.name!)))
    .reduceRight((text, n) => text.slice(0, n.start) + text.slice(n.end), code);
}

function walk(node: unknown, visit: (n: Node) => void): void {
  if (!node || typeof node !== 'object') return;
  if (Array.isArray(node)) return node.forEach((n) => walk(n, visit));
  if (typeof (node as Node).type === 'string') visit(node as Node);
  for (const v of Object.values(node)) walk(v, visit);
}
