/** What was stopped is barred, in charts as in lists, so that one sees it without its colour. */
export const BARS_OF_STOPPED = 'bars-of-stopped';

/** Defines the bars, once for all drawings of a page; itself it shows nothing. */
export function Bars() {
  return (
    <svg aria-hidden="true" className="absolute size-0">
      <defs>
        <pattern id={BARS_OF_STOPPED} width="4" height="3" patternUnits="userSpaceOnUse">
          <rect width="4" height="3" className="fill-plum-wash" />
          <rect width="4" height="2" className="fill-plum" />
        </pattern>
      </defs>
    </svg>
  );
}
