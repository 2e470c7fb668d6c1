import type { Breakdown } from '@jade-fence/core/replay';
import { nice, ticks } from 'd3-array';
import { Choice } from '../frame/choice.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { BARS_OF_STOPPED } from './bars.js';

interface HourBarsProps {
  readonly hours: Breakdown;
  readonly onChoose: (hour: string) => void;
}

const [WIDTH, HEIGHT] = [640, 90];
/** Room for the numbers of the axis, and above and below the bars. */
const [LEFT, TOP, BOTTOM] = [34, 8, 6];
const TICKS = 3;
const GAP = 0.15;
/** 15,000 as 15K, since the axis has little room. */
const SHORT = new Intl.NumberFormat('en', { notation: 'compact' });

/** Requests by the hour: what was let through, what was stopped barred in plum, and what no policy covers in grey on top; each leads to its requests. */
export function HourBars({ hours, onChoose }: HourBarsProps) {
  const rows = hours.rows.flatMap((row) => (row.key === null ? [] : [{ ...row, key: row.key }]));
  const most = Math.max(1, ...rows.map(({ requests }) => requests));
  if (rows.length < 2) return null;
  // A gap in front of the first bar, behind the last, and between them, each a share of the step.
  const step = (WIDTH - LEFT) / (rows.length + GAP);
  const width = step * (1 - GAP);
  const [, top] = nice(0, most, TICKS);
  const y = (requests: number) => HEIGHT - BOTTOM - (requests / top) * (HEIGHT - BOTTOM - TOP);
  const [first, last] = [rows[0]?.key ?? '', rows.at(-1)?.key ?? ''];
  return (
    <figure className="mb-5" aria-label="Requests by the hour">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: who uses keys chooses the hour below, of which each is too narrow to be aimed at */}
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`Requests by the hour, at most ${count(most)}`}
        className="h-auto w-full cursor-pointer"
        onClick={({ target }) => {
          const hour = (target as SVGElement).closest<SVGElement>('[data-hour]')?.dataset.hour;
          if (hour) onChoose(hour);
        }}
      >
        {ticks(0, top, TICKS).map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={WIDTH} y1={y(tick)} y2={y(tick)} className="stroke-line" />
            <text x={LEFT - 5} y={y(tick) + 4} textAnchor="end" className="fill-soft text-[11px]">
              {SHORT.format(tick)}
            </text>
          </g>
        ))}
        {rows.map(({ key, requests, allow, uncovered }, at) => (
          <g key={key} data-hour={key} className="group">
            <title>{hourTitle({ key, requests, allow, uncovered })}</title>
            <rect
              x={LEFT + step * (at + GAP)}
              y={TOP}
              width={step}
              height={y(0) - TOP}
              className="fill-transparent group-hover:fill-line"
            />
            <rect
              x={LEFT + step * (at + GAP)}
              y={y(allow)}
              width={width}
              height={y(0) - y(allow)}
              className="fill-jade"
            />
            <rect
              x={LEFT + step * (at + GAP)}
              y={y(requests - uncovered)}
              width={width}
              height={y(allow) - y(requests - uncovered)}
              fill={`url(#${BARS_OF_STOPPED})`}
            />
            <rect
              x={LEFT + step * (at + GAP)}
              y={y(requests)}
              width={width}
              height={y(requests - uncovered) - y(requests)}
              className="fill-line"
            />
          </g>
        ))}
      </svg>
      <figcaption className="mt-1 flex items-center justify-between text-soft">
        <span>{clock(first).slice(0, 16)}</span>
        <Choice
          label="By the hour; one of them"
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

interface Hour {
  readonly key: string;
  readonly requests: number;
  readonly allow: number;
  readonly uncovered: number;
}

function hourTitle({ key, requests, allow, uncovered }: Hour): string {
  const rest = uncovered > 0 ? `, ${count(uncovered)} that no policy covers` : '';
  return `${clock(key).slice(5, 16)}: ${count(requests)} requests, ${count(requests - allow - uncovered)} not allowed${rest}`;
}
