import type { Breakdown } from '@jade-fence/core';
import { clock, count } from '../marks/count.js';

interface HourBarsProps {
  readonly hours: Breakdown;
  readonly onChoose: (hour: string) => void;
}

const HEIGHT = 64;

/** Requests by the hour, what was not let through in plum; each hour leads to its requests. */
export function HourBars({ hours, onChoose }: HourBarsProps) {
  const rows = hours.rows.flatMap((row) => (row.key === null ? [] : [{ ...row, key: row.key }]));
  const most = Math.max(1, ...rows.map(({ requests }) => requests));
  if (rows.length < 2) return null;
  const [first, last] = [rows[0]?.key ?? '', rows.at(-1)?.key ?? ''];
  return (
    <figure className="mb-5" aria-label="Requests by the hour">
      <div className="flex items-end gap-px border-b border-line" style={{ height: HEIGHT }}>
        {rows.map(({ key, requests, allow }) => {
          const told = `${clock(key).slice(5, 16)}: ${count(requests)} requests, ${count(requests - allow)} not allowed`;
          return (
            <button
              key={key}
              type="button"
              title={told}
              aria-label={told}
              onClick={() => onChoose(key)}
              className="flex min-w-0 flex-1 cursor-pointer flex-col justify-end self-stretch hover:bg-line"
            >
              <span className="bg-plum" style={{ height: ((requests - allow) / most) * HEIGHT }} />
              <span className="bg-jade" style={{ height: (allow / most) * HEIGHT }} />
            </button>
          );
        })}
      </div>
      <figcaption className="flex justify-between text-soft">
        <span>{clock(first).slice(0, 16)}</span>
        <span>by the hour, UTC; at most {count(most)}</span>
        <span>{clock(last).slice(0, 16)}</span>
      </figcaption>
    </figure>
  );
}
