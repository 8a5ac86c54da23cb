/** Whether an element has been in view and its surroundings at rest: what costs much is worked out only then. */
import { useEffect, useRef, useState, type RefObject } from 'react';

/** At rest after so long, ms. */
const REST = 400;

/** @param of what it shows; another one is to be looked at anew @returns true once it was in view for a moment */
export function useLookedAt<E extends Element>(of: unknown): [RefObject<E | null>, boolean] {
  const ref = useRef<E>(null);
  const [seen, setSeen] = useState<{ of: unknown } | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const observer = new IntersectionObserver(([entry]) => {
      clearTimeout(timer);
      if (entry.isIntersecting) timer = setTimeout(() => setSeen({ of }), REST);
    });
    if (ref.current) observer.observe(ref.current);
    return () => {
      clearTimeout(timer);
      observer.disconnect();
    };
  }, [of]);
  return [ref, seen?.of === of && seen !== null];
}
