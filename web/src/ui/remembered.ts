/** What the browser remembers of how a person likes things; nothing where it refuses to. */
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
