import type { LiveBody } from '@jade-fence/contract';
import { useEffect, useState } from 'react';
import { BARS_OF_STOPPED } from '../charts/bars.js';
import { type Rate, ratesOf, type Sample, sampleOf } from './rates.js';

/** The looks that are kept: two minutes of them. */
const KEPT = 120;
const [WIDTH, HEIGHT] = [640, 64];

/** Requests a second in the last minutes: what went through, and on top, barred, what was stopped. */
export function RateBars({ live, at }: { readonly live: LiveBody; readonly at: number }) {
  const [samples, setSamples] = useState<readonly Sample[]>([]);
  useEffect(() => setSamples((before) => [...before, sampleOf(live, at)].slice(-KEPT)), [live, at]);
  const rates = ratesOf(samples);
  const last = rates.at(-1);
  const most = Math.max(1, ...rates.map(({ allowed, stopped }) => allowed + stopped));
  const width = WIDTH / KEPT;
  const tall = (rate: number) => (rate / most) * HEIGHT;
  return (
    <figure className="mb-5 max-w-3xl" aria-label="Requests a second">
      <figcaption className="mb-1 tabular-nums">
        {last ? `${shown(last.allowed)} a second let through, ${shown(last.stopped)} stopped` : 'Counting …'}
        {rates.length > 0 && <span className="text-soft">; at most {shown(most)} in the last two minutes</span>}
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true" className="h-16 w-full border-b border-line">
        {rates.map(({ at: time, allowed, stopped }: Rate, index) => {
          const x = WIDTH - (rates.length - index) * width;
          return (
            <g key={time}>
              <rect x={x} y={HEIGHT - tall(allowed)} width={width * 0.8} height={tall(allowed)} className="fill-jade" />
              <rect
                x={x}
                y={HEIGHT - tall(allowed + stopped)}
                width={width * 0.8}
                height={tall(stopped)}
                fill={`url(#${BARS_OF_STOPPED})`}
              />
            </g>
          );
        })}
      </svg>
    </figure>
  );
}

const shown = (rate: number): string => rate.toLocaleString('en', { maximumFractionDigits: rate < 10 ? 1 : 0 });
