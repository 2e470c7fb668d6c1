interface StripProps {
  readonly first: string;
  readonly last: string;
  /** What the strips of all logs are in. */
  readonly extent: Extent;
}

/** In milliseconds since 1970. */
export interface Extent {
  readonly from: number;
  readonly to: number;
}

/** So wide is the strip of a log that is short beside the others, as a share. */
const LEAST = 0.012;

/** When the requests of a log were, beside those of the other logs; its times are beside it as text. */
export function Strip({ first, last, extent: { from, to } }: StripProps) {
  const whole = Math.max(1, to - from);
  const width = Math.max(LEAST, (Date.parse(last) - Date.parse(first)) / whole);
  const left = Math.min(1 - width, (Date.parse(first) - from) / whole);
  return (
    <span aria-hidden="true" className="relative inline-block h-3 w-48 border-x border-b border-line align-middle">
      <span className="absolute inset-y-0.5 bg-soft" style={{ left: `${left * 100}%`, width: `${width * 100}%` }} />
    </span>
  );
}

/** From the first request of all logs to their last; undefined where none has a time. */
export function extentOfAll(
  logs: readonly { readonly firstTime: string | null; readonly lastTime: string | null }[],
): Extent | undefined {
  const times = logs.flatMap(({ firstTime, lastTime }) =>
    firstTime === null || lastTime === null ? [] : [Date.parse(firstTime), Date.parse(lastTime)],
  );
  return times.length === 0 ? undefined : { from: Math.min(...times), to: Math.max(...times) };
}
