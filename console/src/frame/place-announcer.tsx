import { useEffect, useRef, useState } from 'react';
import { useLocation } from 'react-router';

/** The title of a page that is fetched comes a moment after its address. */
const SETTLED_MS = 300;

/** Says where one has come to; on another page the focus goes to its beginning, unless something there has it already. */
export function PlaceAnnouncer() {
  const { pathname } = useLocation();
  const before = useRef(pathname);
  const [said, setSaid] = useState('');
  useEffect(() => {
    if (before.current === pathname) return;
    const isOtherPage = partOf(before.current) !== partOf(pathname);
    before.current = pathname;
    const page = document.getElementById('page');
    if (isOtherPage && !page?.contains(document.activeElement)) page?.focus();
    const timer = setTimeout(() => setSaid(document.title), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [pathname]);
  return (
    <span role="status" className="sr-only">
      {said}
    </span>
  );
}

/** What the bar names: `library` of `/library/list/guides`. */
const partOf = (path: string): string => path.split('/')[1] ?? '';
