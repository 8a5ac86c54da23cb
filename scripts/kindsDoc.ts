/** docs/kinds.md: every primitive and every kind of live step, from their definitions. */
import { PRIMITIVES } from '@urnsmith/core/primitives/index';
import { LANES, STEPS } from '@urnsmith/core/steps/index';
import { parameterTable } from './parameterTable';

/** Without what every step has, and the kind that its heading tells. */
function own(properties: Record<string, object>): object {
  const { kind: _, primitive: __, id: ___, name: ____, off: _____, ...rest } = properties;
  return rest;
}

export function kindsDoc(): string {
  const steps = Object.values(STEPS).sort((a, b) => LANES.indexOf(a.lane) - LANES.indexOf(b.lane));
  return [
    '# Primitives and live steps',
    '',
    'Written by `npm run docs` from the definitions themselves. Lengths in millimetres, angles in degrees. What has a',
    'default may be left out of a [recipe](recipe.md).',
    '',
    '## Primitives',
    '',
    'A piece’s `base`, centred on its origin, Y up.',
    '',
    ...Object.values(PRIMITIVES).flatMap((p) => [
      `### \`${p.kind}\``,
      '',
      ...parameterTable(own(p.schema.properties)),
    ]),
    '## Live steps',
    '',
    `A piece’s \`steps\` are worked lane by lane (${LANES.join(', ')}), within a lane in the order they stand. Every step may have`,
    'an `id`, a `name`, and `"off": true`.',
    '',
    ...steps.flatMap((s) => [
      `### \`${s.kind}\``,
      '',
      `${s.title}, in the lane ${s.lane}. For example:`,
      '',
      '```json',
      JSON.stringify(s.example),
      '```',
      '',
      ...parameterTable(own(s.schema.properties)),
    ]),
  ].join('\n');
}
