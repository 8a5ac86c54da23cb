/** Round: the edges in scope take a profile. */
import { Type } from 'typebox';
import { bevel as bevelMesh } from '../../ops/bevel/bevel';
import { facesBevelled } from '../../ops/bounds';
import { refuseTooMany } from '../../ops/operation';
import { defineStep } from '../define';
import { edgesInScope, ScopeSchema } from '../scope';

export const bevel = defineStep({
  kind: 'bevel',
  title: 'Round',
  lane: 'Edge',
  example: { kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 3 },
  params: {
    scope: Type.Optional(ScopeSchema),
    width: Type.Number({ title: 'Width', unit: 'mm', minimum: 0.001, maximum: 10000, default: 2 }),
    segments: Type.Optional(
      Type.Integer({ title: 'Segments', unit: '', minimum: 1, maximum: 32, default: 3 }),
    ),
    profile: Type.Optional(Type.Number({ title: 'Profile', unit: '', minimum: -1, maximum: 2, default: 1 })),
    clamp: Type.Optional(Type.Boolean({ title: 'Stop where strips meet', default: true })),
  },
  fields: [
    { key: 'scope' },
    { key: 'width', perPixel: 0.1 },
    { key: 'segments' },
    { key: 'profile', perPixel: 0.02, captions: ['−1 scoop', '0 flat', '1 round', '2 square'] },
    { key: 'clamp' },
  ],
  label({ scope }) {
    const rule = scope?.rule ?? 'sharp';
    return rule === 'rims' ? 'Rims' : rule === 'all' ? 'All edges' : 'Sharp edges';
  },
  run(mesh, step, { limits }) {
    const segments = step.segments ?? 3;
    const edges = edgesInScope(mesh, step.scope ?? { rule: 'sharp', angle: 30 });
    refuseTooMany({ title: bevel.title }, facesBevelled(mesh, edges, segments), limits.faces);
    const { mesh: out, report } = bevelMesh(mesh, edges, {
      width: step.width,
      segments,
      profile: step.profile ?? 1,
      clamp: step.clamp ?? true,
    });
    const key = `${Number(step.width.toPrecision(4))} mm · ${segments} seg`;
    if (!report.roundedEdges) return { mesh: out, key, warning: 'No edge is in scope.' };
    const stopped = report.stoppedGroups
      ? `${report.stoppedGroups} of ${report.groups} runs of edges stop early, the first at ${Number(report.reachedWidth.toPrecision(3))} mm.`
      : undefined;
    return { mesh: out, key, warning: stopped };
  },
});
