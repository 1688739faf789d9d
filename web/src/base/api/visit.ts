/**
 * What somebody without an account does in this tab, kept over a reload and no longer: others may use the machine after
 * them.
 */
export const visit = {
  get(key: string): string | null {
    try {
      return sessionStorage.getItem(key);
    } catch {
      return null; // a browser that keeps nothing
    }
  },
  set(key: string, value: string) {
    try {
      sessionStorage.setItem(key, value);
    } catch {
      // It lasts as long as the page stands.
    }
  },
  remove(key: string) {
    try {
      sessionStorage.removeItem(key);
    } catch {
      // It was not kept.
    }
  },
};
