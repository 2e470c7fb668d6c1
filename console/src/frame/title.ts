import { useEffect } from 'react';

const PRODUCT = 'Jade Fence';

/** Names the page where the browser lists it: in tabs, its history, and to readers of the screen. */
export function useTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · ${PRODUCT}`;
    return () => {
      document.title = PRODUCT;
    };
  }, [title]);
}
