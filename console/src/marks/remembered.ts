/** What this page remembers where the browser keeps nothing, because it is told not to, or is full. */
const here = new Map<string, string>();

/** The browser's storage for this console. Where the browser keeps nothing, it lasts as long as the page. */
export const remembered = {
  getItem(name: string): string | null {
    try {
      return localStorage.getItem(name) ?? here.get(name) ?? null;
    } catch {
      return here.get(name) ?? null;
    }
  },
  setItem(name: string, value: string): void {
    try {
      localStorage.setItem(name, value);
      here.delete(name);
    } catch {
      here.set(name, value);
    }
  },
};
