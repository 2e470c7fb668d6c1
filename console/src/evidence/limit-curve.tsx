import type { LimitReport } from '@jade-fence/core/replay';
import { scaleLinear, scalePoint } from 'd3-scale';
import { area, curveStepAfter, line } from 'd3-shape';
import { Part } from '../frame/page.js';
import { count } from '../marks/count.js';

const [WIDTH, HEIGHT] = [560, 190];
const MARGIN = { top: 10, right: 16, bottom: 34, left: 44 };
const TICKS = 4;
/** There is room for the numbers of this many thresholds. */
const MOST_LABELS = 12;

/** How many clients would be over a limit at each threshold, so that it is chosen from what was seen. */
export function LimitCurve({ limit }: { readonly limit: LimitReport }) {
  const { curve, counts, moreThan, within, worst, uncounted } = limit;
  if (curve.length === 0) return null;
  const x = scalePoint(
    curve.map((point) => String(point.moreThan)),
    [MARGIN.left, WIDTH - MARGIN.right],
  );
  const most = Math.max(1, ...curve.map(({ keys }) => keys));
  const y = scaleLinear([0, most], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice(TICKS);
  const at = (threshold: number) => x(String(threshold)) ?? 0;
  const drawn = line<LimitReport['curve'][number]>(
    (point) => at(point.moreThan),
    (point) => y(point.keys),
  ).curve(curveStepAfter)(curve);
  const under = area<LimitReport['curve'][number]>(
    (point) => at(point.moreThan),
    y(0),
    (point) => y(point.keys),
  ).curve(curveStepAfter)(curve);
  const every = Math.ceil(curve.length / MOST_LABELS);
  return (
    <Part title={`Over the limit within ${count(within)} s, by threshold`}>
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          className="h-auto w-full max-w-xl"
          role="img"
          aria-label="How many keys would be over at each threshold; the table beside it has the same figures"
        >
          {y.ticks(TICKS).map((tick) => (
            <g key={tick}>
              <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} y1={y(tick)} y2={y(tick)} className="stroke-line" />
              <text x={MARGIN.left - 6} y={y(tick) + 4} textAnchor="end" className="fill-soft text-[11px]">
                {count(tick)}
              </text>
            </g>
          ))}
          <path d={under ?? ''} className="fill-iris-wash" />
          <path d={drawn ?? ''} className="fill-none stroke-iris stroke-2" />
          {curve
            .filter((_, index) => index % every === 0)
            .map((point) => (
              <text
                key={point.moreThan}
                x={at(point.moreThan)}
                y={HEIGHT - MARGIN.bottom + 14}
                textAnchor="middle"
                className="fill-soft text-[11px]"
              >
                {count(point.moreThan)}
              </text>
            ))}
          <text x={(MARGIN.left + WIDTH) / 2} y={HEIGHT - 4} textAnchor="middle" className="fill-soft text-[11px]">
            more than so many {counts}
          </text>
          {x(String(moreThan)) !== undefined && (
            <g>
              <line
                x1={at(moreThan)}
                x2={at(moreThan)}
                y1={MARGIN.top}
                y2={y(0)}
                className="stroke-plum stroke-2 [stroke-dasharray:4_3]"
              />
              <text x={at(moreThan) + 5} y={MARGIN.top + 10} className="fill-plum text-[11px]">
                the rule’s {count(moreThan)}
              </text>
            </g>
          )}
        </svg>
        <table className="h-fit text-left">
          <thead className="text-soft">
            <tr className="border-b border-line">
              <th scope="col" className="py-0.5 pr-4 text-right font-normal">
                more than
              </th>
              <th scope="col" className="py-0.5 text-right font-normal">
                keys over
              </th>
            </tr>
          </thead>
          <tbody>
            {curve.map((point) => (
              <tr
                key={point.moreThan}
                className={`border-b border-line/60 ${point.moreThan === moreThan ? 'bg-plum-wash' : ''}`}
              >
                <td className="py-0.5 pr-4 text-right font-mono">
                  {point.moreThan === moreThan && <span className="mr-2 font-sans">the rule’s</span>}
                  {count(point.moreThan)}
                </td>
                <td className="py-0.5 text-right tabular-nums">{count(point.keys)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {uncounted > 0 && <p className="text-ochre">There were too many keys to keep; the curve is of some.</p>}
      {worst.length > 0 && (
        <p className="mt-1 text-soft">
          Most within the span:{' '}
          {worst.slice(0, 5).map(({ key, peak }, index) => (
            <span key={key}>
              {index > 0 && ', '}
              <code className="font-mono text-ink">{key}</code> {count(peak)}
            </span>
          ))}
        </p>
      )}
    </Part>
  );
}
