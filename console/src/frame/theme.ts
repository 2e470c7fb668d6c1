import { useEffect, useState } from 'react';

export type Theme = 'light' | 'dark';
const STORED = 'jade-fence-theme';

/** The theme that was chosen here, else the system's; set on the page as `data-theme`. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(initialTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const choose = (chosen: Theme) => {
    localStorage.setItem(STORED, chosen);
    setTheme(chosen);
  };
  return [theme, choose];
}

function initialTheme(): Theme {
  const stored = localStorage.getItem(STORED);
  if (stored === 'light' || stored === 'dark') return stored;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}
