import { useEffect, useMemo, useSyncExternalStore } from 'react';

/*
 * Edits that were begun and not kept in the draft yet. They stay in this tab, so that going elsewhere in the console, or
 * loading it again, loses none; they end with the session.
 */

const PREFIX = 'unsaved ';

const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The edit that was begun of a thing, and a way to change it; undefined forgets it. */
export function useUnsaved<T>(key: string): [T | undefined, (value: T | undefined) => void] {
  const text = useSyncExternalStore(subscribe, () => sessionStorage.getItem(PREFIX + key));
  const value = useMemo(() => (text === null ? undefined : (JSON.parse(text) as T)), [text]);
  const set = (next: T | undefined) => {
    if (next === undefined) sessionStorage.removeItem(PREFIX + key);
    else sessionStorage.setItem(PREFIX + key, JSON.stringify(next));
    for (const listener of listeners) listener();
  };
  return [value, set];
}

/** Begins an edit of a thing, in place of one that may be begun of it already. */
export function beginUnsaved<T>(key: string, value: T): void {
  sessionStorage.setItem(PREFIX + key, JSON.stringify(value));
  for (const listener of listeners) listener();
}

const keys = (): string[] =>
  Object.keys(sessionStorage)
    .filter((key) => key.startsWith(PREFIX))
    .map((key) => key.slice(PREFIX.length));

/** Of which things with keys that begin so there are edits; what follows that beginning. */
export function useUnsavedOf(beginning: string): ReadonlySet<string> {
  const text = useSyncExternalStore(subscribe, () => JSON.stringify(keys()));
  return useMemo(() => {
    const all = JSON.parse(text) as string[];
    return new Set(all.filter((key) => key.startsWith(beginning)).map((key) => key.slice(beginning.length)));
  }, [text, beginning]);
}

/** Has the browser ask before the tab is closed over edits that are not kept. */
export function useAskBeforeClosing(): void {
  const any = useSyncExternalStore(subscribe, () => keys().length > 0);
  useEffect(() => {
    if (!any) return undefined;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [any]);
}
