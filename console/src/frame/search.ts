import { useSearchParams } from 'react-router';

/** What a page shows by its address, so that every view of it can be linked to. */
export interface Search {
  /** A parameter of the address; empty where it has none of the name. */
  readonly get: (name: string) => string;
  /** Sets a parameter in place, without a step of the browser's history; an empty one is taken out. */
  readonly set: (name: string, value: string) => void;
}

/** The parameters of the page's address. */
export function useSearch(): Search {
  const [search, setSearch] = useSearchParams();
  return {
    get: (name) => search.get(name) ?? '',
    set: (name, value) =>
      setSearch(
        (before) => {
          const after = new URLSearchParams(before);
          value === '' ? after.delete(name) : after.set(name, value);
          return after;
        },
        { replace: true },
      ),
  };
}
