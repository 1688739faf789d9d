let account = "";

/** Whose this page is; "" before that is known, and of readers, who keep nothing of their own. */
export const whose = () => account;

export const isOf = (someone: string) => void (account = someone);

/** Small settings of an account in this browser. */
export const local = {
  get(key: string): string | null {
    try {
      return localStorage.getItem(`${key} ${whose()}`);
    } catch {
      return null; // a browser that keeps nothing
    }
  },
  /** A taste, which an account that has none yet takes over from before tastes were kept for each. */
  taste(key: string): string | null {
    try {
      return local.get(key) ?? localStorage.getItem(key);
    } catch {
      return null;
    }
  },
  set(key: string, value: string) {
    try {
      localStorage.setItem(`${key} ${whose()}`, value);
    } catch {
      // A browser that keeps nothing: the choice lasts until the page is closed.
    }
  },
  remove(key: string) {
    try {
      localStorage.removeItem(`${key} ${whose()}`);
    } catch {
      // It was not kept.
    }
  },
};
