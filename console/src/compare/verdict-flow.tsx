import type { ComparisonBody } from '@jade-fence/contract';
import { BARS_OF_STOPPED } from '../charts/bars.js';
import { count } from '../marks/count.js';
import { VERDICTS_SHOWN } from '../marks/verdicts.js';
import { type Band, bandsOf } from './bands.js';

type Verdict = ComparisonBody['changes'][number]['was'];

interface VerdictFlowProps {
  readonly changes: ComparisonBody['changes'];
  readonly onChoose: (was: Verdict, is: Verdict) => void;
}

const WIDTH = 420;
/** Each change has room for its words, and many share the most that there is. */
const heightFor = (changes: number): number => Math.min(180, 48 * changes);
/** The posts at both sides, and the words beside them, in pixels. */
const [POST, WORD] = [8, 74];

const FILLS: Readonly<Record<string, string>> = { allow: 'fill-jade', uncovered: 'fill-soft' };
const fillOf = (verdict: Verdict) =>
  verdict === 'block' ? { fill: `url(#${BARS_OF_STOPPED})` } : { className: FILLS[verdict] ?? 'fill-bluebell' };

/** Requests that changed, as bands from the verdict that they had to the one that they have. The table beside it has the figures. */
export function VerdictFlow({ changes, onChoose }: VerdictFlowProps) {
  const order = [...VERDICTS_SHOWN, 'uncovered'] as readonly Verdict[];
  const height = heightFor(changes.length);
  const bands = bandsOf(changes, order, height);
  if (bands.length === 0) return null;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: who uses keys chooses in the table beside it
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label="From which verdict to which"
      className="mb-3 h-auto w-full max-w-md"
      onClick={({ target }) => {
        const [was, is] = (target as SVGElement).closest<SVGElement>('[data-band]')?.dataset.band?.split(' ') ?? [];
        if (was && is) onChoose(was as Verdict, is as Verdict);
      }}
    >
      {bands.map((band) => (
        <g key={`${band.was} ${band.is}`} data-band={`${band.was} ${band.is}`} className="cursor-pointer">
          <title>{`${count(band.requests)} requests: ${band.was}, then ${band.is}`}</title>
          <path d={ribbon(band)} className="fill-chosen hover:fill-line" />
          <rect x={WORD} y={band.left} width={POST} height={band.height} {...fillOf(band.was)} />
          <rect x={WIDTH - WORD - POST} y={band.right} width={POST} height={band.height} {...fillOf(band.is)} />
        </g>
      ))}
      {order.map((verdict) => (
        <g key={verdict} className="fill-ink text-[11px]">
          <Name at={middleOf(bands, 'was', verdict)} x={WORD - 5} anchor="end" text={verdict} />
          <Name at={middleOf(bands, 'is', verdict)} x={WIDTH - WORD + 5} anchor="start" text={verdict} />
        </g>
      ))}
    </svg>
  );
}

/** From one post to the other, bent so that it leaves and comes in level. */
function ribbon({ left, right, height }: Band): string {
  const [from, to] = [WORD + POST, WIDTH - WORD - POST];
  const half = (from + to) / 2;
  return [
    `M${from} ${left}C${half} ${left} ${half} ${right} ${to} ${right}`,
    `V${right + height}C${half} ${right + height} ${half} ${left + height} ${from} ${left + height}Z`,
  ].join('');
}

/** The middle of all that one verdict has at a side; undefined where it has nothing. */
function middleOf(bands: readonly Band[], side: 'was' | 'is', verdict: Verdict): number | undefined {
  const own = bands.filter((band) => band[side] === verdict);
  const tops = own.map((band) => (side === 'was' ? band.left : band.right));
  const ends = own.map((band) => (side === 'was' ? band.left : band.right) + band.height);
  return own.length === 0 ? undefined : (Math.min(...tops) + Math.max(...ends)) / 2;
}

interface NameProps {
  readonly at: number | undefined;
  readonly x: number;
  readonly anchor: 'start' | 'end';
  readonly text: string;
}

function Name({ at, x, anchor, text }: NameProps) {
  if (at === undefined) return null;
  return (
    <text x={x} y={at + 4} textAnchor={anchor}>
      {text}
    </text>
  );
}
