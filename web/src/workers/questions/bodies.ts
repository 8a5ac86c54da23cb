/** The bodies of the built piece as bytes to store, one each. */
import { bodiesOf } from '@urnsmith/core/cutting/bodies';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { withoutTraces } from '@urnsmith/core/mesh/traces';
import { defineQuestion } from './define';

export const bodies = defineQuestion(
  'bodies',
  ({ most }: { most: number }, { id, evaluator }) => {
    const all = bodiesOf(evaluator.build(id).mesh);
    return {
      bodies: all.length,
      meshes: all.length > most ? [] : all.map((m) => encodeMesh(withoutTraces(m))),
    };
  },
  { aboutBase: true },
);
