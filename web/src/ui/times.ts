/** Moments as a person says them. */
export function ago(ms: number): string {
  const s = Math.round(ms / 1000);
  if (s < 3) return 'just now';
  if (s < 90) return `${s} s ago`;
  if (s < 5400) return `${Math.round(s / 60)} min ago`;
  return `${Math.round(s / 3600)} h ago`;
}

/** A moment by the clock; with the day when it was not today. */
export function atTime(t: number, now = new Date()): string {
  const d = new Date(t);
  const time = d.toLocaleTimeString('en', { hour: '2-digit', minute: '2-digit', hour12: false });
  if (d.toDateString() === now.toDateString()) return time;
  return `${d.toLocaleDateString('en', { day: 'numeric', month: 'short' })}, ${time}`;
}
