import { Checkbox } from '@headlessui/react';
import type { RuleBody } from '@jade-fence/contract';
import type { RuleReport } from '@jade-fence/core/replay';
import type { Finding } from '@jade-fence/core/review';
import type { Mend } from '../edit/mend.js';
import { CodeText } from '../marks/code-text.js';
import { count, share } from '../marks/count.js';
import { Findings } from '../marks/findings.js';
import { Gate } from '../marks/gate.js';
import { RoleMark } from '../marks/role-mark.js';
import { LISTED_ROLES, type ListedRole } from '../marks/roles.js';
import { StanceChip } from '../marks/stance-chip.js';
import { type RuleActions, RuleActs } from './rule-acts.js';
import { MoveHandle, SortableRow } from './sortable-row.js';
import { Stream } from './stream.js';
import type { Measure } from './use-near-rows.js';

interface RuleRowProps {
  readonly number: number;
  readonly rule: RuleBody;
  /** Whether an edit of it was begun and not kept yet. */
  readonly unsaved: boolean;
  /** Undefined before a replay, and where the replay ran before the rule was there. */
  readonly figures: RuleReport | undefined;
  readonly whole: number;
  readonly remarks: readonly string[];
  readonly chosen: ListedRole | undefined;
  readonly onChoose: (role: ListedRole) => void;
  /** How many rules there are. */
  readonly of: number;
  readonly measure: Measure | undefined;
  readonly findings: readonly Finding[];
  /** Undefined where one may only look. */
  readonly acts: RuleActions | undefined;
  readonly onMend: ((mend: Mend) => void) | undefined;
  /** Whether it is chosen for an edit of several; undefined where rules are not. */
  readonly ticked: boolean | undefined;
  readonly onTick: (ticked: boolean) => void;
}

/** One rule of the run: its traffic, its sentence, and what it did, each a way to the requests. */
export function RuleRow(props: RuleRowProps) {
  const { number, rule, unsaved, figures, whole, remarks, chosen, onChoose, of, measure, findings, acts, onMend } =
    props;
  const { ticked, onTick } = props;
  const main =
    figures && figures.observed > figures.decided
      ? 'observed'
      : figures && figures.decided === 0 && figures.overtaken > 0
        ? 'overtaken'
        : 'decided';
  return (
    <SortableRow
      rule={rule.rule}
      at={number - 1}
      of={of}
      tone={chosen ? 'bg-chosen' : ''}
      movable={acts !== undefined}
      measure={measure}
    >
      {figures && whole > 0 && (
        <Stream arrived={figures.arrived / whole} taken={figures.decided / whole} verdict={rule.then} />
      )}
      <div className={`py-2 pr-3 ${figures ? 'pl-[88px]' : 'pl-4'}`}>
        <div className="flex items-baseline gap-2">
          {ticked !== undefined && (
            <Checkbox
              checked={ticked}
              onChange={onTick}
              aria-label={`Choose ${rule.rule}`}
              className="inline-block size-4 flex-none translate-y-0.5 rounded-xs border border-soft text-center text-[11px] leading-3.5 data-checked:border-ink data-checked:bg-ink data-checked:text-sheet"
            >
              {ticked ? '✓' : ''}
            </Checkbox>
          )}
          <span className="w-5 flex-none text-right font-mono text-soft">{number}</span>
          <h3 className="min-w-0">
            <button
              type="button"
              className="cursor-pointer text-left font-mono font-semibold hover:underline"
              aria-pressed={chosen !== undefined}
              onClick={() => onChoose(main)}
            >
              {rule.rule}
            </button>
          </h3>
          <StanceChip stance={rule.stance} />
          {unsaved && <span className="text-[11px] text-ochre">edited, not kept</span>}
          <span className="ml-auto flex flex-none items-baseline gap-2">
            <Gate verdict={rule.then} />
            <MoveHandle />
            {acts && (
              <RuleActs rule={rule.rule} stance={rule.stance} first={number === 1} last={number === of} acts={acts} />
            )}
          </span>
        </div>
        <div className="ml-7">
          <p>
            <CodeText text={rule.sentence} />
          </p>
          {rule.note && <p className="text-soft">{rule.note}</p>}
          {figures && <Figures figures={figures} whole={whole} chosen={chosen} onChoose={onChoose} />}
          {remarks.map((remark) => (
            <p key={remark} className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
              <CodeText text={remark} />
            </p>
          ))}
          <Findings isBrief findings={findings} onMend={onMend} />
        </div>
      </div>
    </SortableRow>
  );
}

type FiguresProps = Pick<RuleRowProps, 'whole' | 'chosen' | 'onChoose'> & { readonly figures: RuleReport };

function Figures({ figures, whole, chosen, onChoose }: FiguresProps) {
  return (
    <p className="mt-1 flex flex-wrap gap-x-3 text-soft">
      <span>
        <span className="tabular-nums">{count(figures.arrived)}</span> arrive
      </span>
      {LISTED_ROLES.filter((role) => figures[role] > 0).map((role) => (
        <button
          key={role}
          type="button"
          onClick={() => onChoose(role)}
          aria-pressed={chosen === role}
          className={`inline-flex cursor-pointer items-center gap-1 underline decoration-dotted underline-offset-3 hover:text-ink ${chosen === role ? 'font-semibold text-ink' : ''}`}
        >
          <RoleMark of={role} />
          <span className="tabular-nums">{count(figures[role])}</span> {role}
          {role === 'decided' && <span>({share(figures.decided, whole)})</span>}
        </button>
      ))}
    </p>
  );
}
