/** The code a call is refused with; `done` when it is not. Anything but a refusal is thrown on. */
import { OperationError } from '../src/mesh/errors';

export function refusal(f: () => unknown): string {
  try {
    f();
  } catch (e) {
    if (e instanceof OperationError) return e.code;
    throw e;
  }
  return 'done';
}
