import type { PolicyBody } from '@jade-fence/contract';
import type { PolicyReport } from '@jade-fence/core/replay';
import { count, share } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { RoleMark } from '../marks/role-mark.js';
import { Stream } from './stream.js';

interface DefaultRowProps {
  readonly policy: PolicyBody;
  readonly figures: PolicyReport['default'] | undefined;
  readonly whole: number;
  readonly chosen: boolean;
  readonly onChoose: () => void;
}

/** What is left at the bottom of the run. */
export function DefaultRow({ policy, figures, whole, chosen, onChoose }: DefaultRowProps) {
  return (
    <li className={`relative border-y border-line ${chosen ? 'bg-chosen' : ''}`} data-rule="default">
      {figures && whole > 0 && (
        <Stream arrived={figures.arrived / whole} taken={figures.decided / whole} verdict={policy.default.then} />
      )}
      <div className={`py-2 pr-3 ${figures ? 'pl-[88px]' : 'pl-4'}`}>
        <div className="flex items-baseline gap-2">
          <span className="w-5 flex-none" />
          <h3>
            <button
              type="button"
              className="cursor-pointer font-mono font-semibold hover:underline"
              aria-pressed={chosen}
              onClick={onChoose}
            >
              default
            </button>
          </h3>
          <span className="ml-auto">
            <Gate verdict={policy.default.then} />
          </span>
        </div>
        <p className="ml-7">{policy.default.sentence}</p>
        {figures && (
          <p className="mt-1 ml-7 flex gap-x-3 text-soft">
            <span>
              <span className="tabular-nums">{count(figures.arrived)}</span> arrive
            </span>
            {figures.decided > 0 && (
              <button
                type="button"
                onClick={onChoose}
                className="inline-flex cursor-pointer items-center gap-1 underline decoration-dotted underline-offset-3 hover:text-ink"
              >
                <RoleMark of="decided" />
                <span className="tabular-nums">{count(figures.decided)}</span> decided ({share(figures.decided, whole)})
              </button>
            )}
          </p>
        )}
      </div>
    </li>
  );
}
