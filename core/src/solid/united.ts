/**
 * Cutters united into one body, kept as long as the same ones are used: while what they are taken from changes, that half
 * of the kernel's work is done. Subtracting several bodies is the same to the bit, as the kernel unites them first.
 */
import { Recent } from '../Recent';
import { kernel, type Manifold } from './kernel';

interface United {
  of: ReadonlyArray<Manifold>;
  body: Manifold;
}

/** Unions kept; the kernel's memory is not collected, so those not used lately are given back. */
const KEPT = 12;
/** Larger ones are not kept, triangles. */
const MOST = 100_000;

const kept = new Recent<United>(KEPT + 1);

/**
 * A body without some others, which have to stay as they are. The caller gives the result back.
 * @param others at least one
 */
export function without(body: Manifold, others: ReadonlyArray<Manifold>): Manifold {
  const { Manifold } = kernel();
  const known = kept.find((u) => u.of.length === others.length && u.of.every((o, i) => o === others[i]));
  if (known) return body.subtract(known.body);
  if (others.length < 2) return Manifold.difference([body, ...others]);
  const united = Manifold.union([...others]);
  const result = body.subtract(united);
  if (united.numTri() > MOST) united.delete();
  else keep({ of: others, body: united });
  return result;
}

function keep(united: United): void {
  kept.add(united);
  for (const old of kept.all().slice(KEPT)) {
    kept.drop(old);
    old.body.delete();
  }
}
