import { useEffect, useState } from 'react';
import { remembered } from '../marks/remembered.js';

export type Theme = 'light' | 'dark';
const STORED = 'jade-fence-theme';

/** The theme that was chosen here, else the system's; set on the page as `data-theme`. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(initialTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const choose = (chosen: Theme) => {
    remembered.setItem(STORED, chosen);
    setTheme(chosen);
  };
  return [theme, choose];
}

function initialTheme(): Theme {
  const stored = remembered.getItem(STORED);
  if (stored === 'light' || stored === 'dark') return stored;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}
