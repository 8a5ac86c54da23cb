/** Preferences remembered by the browser; none where it refuses storage. */
export const remembered = {
  getItem(key: string): string | null {
    try {
      return localStorage.getItem(key);
    } catch {
      return null;
    }
  },
  setItem(key: string, value: string): void {
    try {
      localStorage.setItem(key, value);
    } catch {
      // A private window may have no storage.
    }
  },
};
