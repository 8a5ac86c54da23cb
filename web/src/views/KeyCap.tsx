/** The key of a command, as printed on its cap; nothing for one without a key. */
import { useKeyLabel } from '../commands/keys';

export function KeyCap({ of }: { of: string }) {
  const label = useKeyLabel(of);
  return label ? <kbd>{label}</kbd> : null;
}
