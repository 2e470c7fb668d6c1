import type { ActionType } from '@jade-fence/core/policy';
import { BARS_OF_STOPPED } from '../charts/bars.js';

interface StreamProps {
  /** Shares of the policy's traffic, from 0 to 1: what arrives at the rule, and what it takes out. */
  readonly arrived: number;
  readonly taken: number;
  readonly verdict: ActionType;
}

/** In pixels: the drawing, the band of all the traffic, and where in the row the taken part leaves. */
const WIDTH = 76;
const BAND = 56;
const LEAVES_AT = 20;
const HEIGHT = 44;
const HAIRLINE = 1;
/** What leaves is drawn lower than it is wide, so that a rule that takes everything stays within its row. */
const FLATTENED = 0.6;
const CORNER = 6;

/**
 * The traffic beside one rule: the band comes in at the top, and what the rule takes bends out to the right, towards
 * its name. The row has the same figures as numbers, so this is hidden from screen readers.
 */
export function Stream({ arrived, taken, verdict }: StreamProps) {
  const rest = taken >= arrived ? 0 : Math.max(HAIRLINE, (arrived - taken) * BAND);
  const out = taken === 0 ? 0 : Math.max(HAIRLINE, taken * BAND);
  return (
    <span className="absolute inset-y-0 left-0" aria-hidden="true" data-stream>
      <span className="absolute inset-y-0 left-0 bg-soft/30" style={{ width: rest }} />
      {out > 0 && (
        <svg
          aria-hidden="true"
          width={WIDTH}
          height={HEIGHT}
          className={`absolute top-0 left-0 ${verdict === 'allow' ? 'fill-jade' : 'fill-bluebell'}`}
        >
          <path
            d={bend(rest, out)}
            className="opacity-75"
            {...(verdict === 'block' && { fill: `url(#${BARS_OF_STOPPED})` })}
          />
        </svg>
      )}
    </span>
  );
}

/** From `width` pixels at the top, right of the rest, round the corner and out at the right edge. */
function bend(rest: number, width: number): string {
  const high = Math.max(HAIRLINE, width * FLATTENED);
  const upper = LEAVES_AT - high / 2;
  const lower = LEAVES_AT + high / 2;
  const right = rest + width;
  const inner = Math.min(CORNER, upper, WIDTH - right);
  const outer = inner + Math.min(width, high);
  return [
    `M${rest} 0H${right}V${upper - inner}Q${right} ${upper} ${right + inner} ${upper}H${WIDTH}`,
    `V${lower}H${Math.min(WIDTH, rest + outer)}Q${rest} ${lower} ${rest} ${lower - outer}Z`,
  ].join('');
}
