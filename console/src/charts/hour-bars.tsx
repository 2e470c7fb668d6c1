import type { Breakdown } from '@jade-fence/core';
import { Choice } from '../frame/choice.js';
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
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: who uses keys chooses the hour below, of which each is too narrow to be aimed at */}
      <div
        role="img"
        aria-label={`Requests by the hour, at most ${count(most)}`}
        className="flex cursor-pointer items-end gap-px border-b border-line"
        style={{ height: HEIGHT }}
        onClick={({ target }) => {
          const hour = (target as HTMLElement).closest<HTMLElement>('[data-hour]')?.dataset.hour;
          if (hour) onChoose(hour);
        }}
      >
        {rows.map(({ key, requests, allow }) => (
          <span
            key={key}
            data-hour={key}
            title={`${clock(key).slice(5, 16)}: ${count(requests)} requests, ${count(requests - allow)} not allowed`}
            className="flex min-w-0 flex-1 flex-col justify-end self-stretch hover:bg-line"
          >
            <span className="bg-plum" style={{ height: ((requests - allow) / most) * HEIGHT }} />
            <span className="bg-jade" style={{ height: (allow / most) * HEIGHT }} />
          </span>
        ))}
      </div>
      <figcaption className="mt-1 flex items-center justify-between text-soft">
        <span>{clock(first).slice(0, 16)}</span>
        <Choice
          label="By the hour, UTC; one of them"
          value=""
          empty="choose"
          options={rows.map(({ key, requests }) => ({
            value: key,
            label: clock(key).slice(5, 16),
            detail: `${count(requests)} requests`,
          }))}
          onChange={onChoose}
        />
        <span>{clock(last).slice(0, 16)}</span>
      </figcaption>
    </figure>
  );
}
