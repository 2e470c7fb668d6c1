/** What was stopped is barred, in charts as in lists, so that its colour is not all that tells it from what went through. */
export const BARS_OF_STOPPED = 'bars-of-stopped';

/** Defines the bars for one drawing. */
export function Bars() {
  return (
    <defs>
      <pattern id={BARS_OF_STOPPED} width="4" height="3" patternUnits="userSpaceOnUse">
        <rect width="4" height="3" className="fill-plum-wash" />
        <rect width="4" height="2" className="fill-plum" />
      </pattern>
    </defs>
  );
}
