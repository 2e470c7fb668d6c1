import { useSyncExternalStore } from 'react';

type Listener = () => void;

const listeners = new Set<Listener>();
let ended = false;

/** Whether the session has ended under the page. */
export const signedOut = {
  set(value: boolean): void {
    if (ended === value) return;
    ended = value;
    for (const listener of listeners) listener();
  },
};

const subscribe = (listener: Listener) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useSignedOut = (): boolean => useSyncExternalStore(subscribe, () => ended);
