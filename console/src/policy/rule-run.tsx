import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { PolicyBody } from '@jade-fence/contract';
import type { PolicyReport } from '@jade-fence/core/replay';
import type { Finding } from '@jade-fence/core/review';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { useUnsavedOf } from '../edit/unsaved.js';
import type { ObjectEdit } from '../edit/use-object-edit.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { wordsIn } from '../frame/words.js';
import { CodeText } from '../marks/code-text.js';
import { count } from '../marks/count.js';
import { Findings } from '../marks/findings.js';
import { StanceChip } from '../marks/stance-chip.js';
import { accessibility } from './announcements.js';
import { DefaultRow } from './default-row.js';
import { FILTERS, type Go, HEAD, type Place } from './place.js';
import { PolicyActs } from './policy-acts.js';
import { RuleRow } from './rule-row.js';
import { RuleRows } from './rule-rows.js';
import { useFirstFall } from './use-first-fall.js';
import { useRuleEdits } from './use-rule-edits.js';

interface RuleRunProps {
  readonly policy: PolicyBody;
  readonly report: PolicyReport | undefined;
  /** Of which requests the figures are, in words; undefined for all of the replay. */
  readonly of: string | undefined;
  readonly findings: readonly Finding[];
  readonly place: Place;
  readonly go: Go;
  readonly edit: ObjectEdit;
  readonly mayEdit: boolean;
  /** What the run is scrolled in. */
  readonly scroller: HTMLElement | null;
}

const SeveralBar = lazy(() => import('./several-bar.js'));

/** From this many rules on, some can be looked for. */
const MANY = 12;
/** So far a pointer goes before it drags, so that pressing is not dragging. */
const DRAG_PIXELS = 4;

/** A policy as an ordered run of rules, with the traffic that falls through them. */
export function RuleRun({ policy, report, of, findings, place, go, edit, mayEdit, scroller }: RuleRunProps) {
  const whole = report?.requests ?? 0;
  const choose = (rule: string, role: string) =>
    // What the figures are of, their requests are of too.
    go({ rule, role, edit: undefined });
  const edits = useRuleEdits(policy, edit, go);
  const isFalling = useFirstFall(report !== undefined);
  const unsaved = useUnsavedOf(`${policy.policy}/`);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_PIXELS } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const names = policy.rules.map(({ rule }) => rule);
  const [wanted, setWanted] = useState('');
  /** The rules that are chosen for an edit of several; undefined where none are. */
  const [several, setSeveral] = useState<readonly string[]>();
  const shown = policy.rules.filter((rule) => isLike(rule, wanted)).map(({ rule }) => rule);
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over) edits.move(names.indexOf(String(active.id)), names.indexOf(String(over.id)));
  };
  const own = findings.filter((finding) => finding.policy === policy.policy);
  // Of the policy itself, and of no policy and object at all.
  const ofNone = ({ policy: of, rule, object }: Finding) =>
    (of === policy.policy && !names.includes(rule ?? '')) || (of === null && object === null);
  return (
    <section aria-label={`Rules of ${policy.policy}`} data-falling={isFalling || undefined}>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1 px-4 py-3">
        <h1 className="font-mono text-page font-semibold">{policy.policy}</h1>
        <StanceChip stance={policy.stance} />
        <span className="text-soft">{policy.note}</span>
        <span className="ml-auto flex flex-none items-baseline gap-3">
          {report && (
            <span className="text-soft">
              <span className="tabular-nums">{count(whole)}</span> requests fall in
            </span>
          )}
          {of !== undefined && (
            <button
              type="button"
              className="cursor-pointer rounded-sm bg-chosen px-1.5"
              aria-label={`Only those that are ${of}; let all fall in`}
              onClick={() =>
                go({
                  ...{ verdict: undefined, country: undefined, to: undefined, host: undefined, hour: undefined },
                  ...Object.fromEntries(FILTERS.map((name) => [name, undefined])),
                })
              }
            >
              {of} <span aria-hidden="true">×</span>
            </button>
          )}
        </span>
      </div>
      {mayEdit && (
        <div className="flex flex-wrap items-center gap-2 px-4 pb-2">
          <PolicyActs policy={policy} onEdit={() => go({ edit: HEAD })} />
          <span className="ml-auto flex flex-wrap items-center gap-2">
            {edit.undo && <Button onClick={edit.undo}>Undo</Button>}
            {policy.rules.length > 1 && several === undefined && (
              <Button onClick={() => setSeveral([])}>Several …</Button>
            )}
            <Button onClick={() => go({ edit: NEW })}>{unsaved.has('') ? 'New rule, begun' : 'New rule'}</Button>
          </span>
        </div>
      )}
      <div className="px-4 pb-2 empty:hidden">
        <Findings isBrief findings={findings.filter(ofNone)} onMend={mayEdit ? edits.mend : undefined} />
      </div>
      {(report?.remarks ?? [])
        .filter((remark) => remark.rule === null)
        .map(({ text, code }) => (
          <p key={text} className="mx-4 mb-2 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
            <CodeText text={text} />
            {code === 'unresolved' && (
              <>
                {' '}
                <Link to="/library/resolutions" className="text-iris underline">
                  Resolve them
                </Link>
              </>
            )}
          </p>
        ))}
      {edit.put.error && place.edit === undefined && <ErrorMessage error={edit.put.error} />}
      {names.length >= MANY && (
        <div className="flex flex-wrap items-end gap-3 px-4 pb-2">
          <TextField label="Only rules with" value={wanted} onChange={setWanted} placeholder="a name, or words of it" />
          <span role="status" className="text-soft tabular-nums">
            {wanted !== '' && `${count(shown.length)} of ${count(names.length)} rules`}
          </span>
        </div>
      )}
      {mayEdit && several && (
        <Suspense fallback={null}>
          <SeveralBar
            {...{ policy, edit, shown }}
            chosen={several.filter((rule) => names.includes(rule))}
            onChoose={setSeveral}
            onClose={() => setSeveral(undefined)}
          />
        </Suspense>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={dropped}
        accessibility={accessibility(names)}
      >
        <SortableContext items={shown} strategy={verticalListSortingStrategy}>
          <RuleRows
            names={shown}
            scroller={scroller}
            sought={place.rule}
            whole={report !== undefined}
            rowOf={(index, measure) => {
              const at = names.indexOf(shown[index] as string);
              const rule = policy.rules[at] as PolicyBody['rules'][number];
              return (
                <RuleRow
                  key={rule.rule}
                  number={at + 1}
                  of={policy.rules.length}
                  measure={measure}
                  rule={rule}
                  unsaved={unsaved.has(rule.rule)}
                  figures={report?.rules.find((each) => each.rule === rule.rule)}
                  whole={whole}
                  remarks={(report?.remarks ?? [])
                    .filter((remark) => remark.rule === rule.rule)
                    .map((remark) => remark.text)}
                  findings={own.filter((finding) => finding.rule === rule.rule)}
                  chosen={place.rule === rule.rule ? place.role : undefined}
                  onChoose={(role) => choose(rule.rule, role)}
                  acts={mayEdit ? edits.actsOf(rule.rule) : undefined}
                  onMend={mayEdit ? edits.mend : undefined}
                  ticked={several?.includes(rule.rule)}
                  onTick={(on) =>
                    setSeveral((own = []) => (on ? [...own, rule.rule] : own.filter((each) => each !== rule.rule)))
                  }
                />
              );
            }}
          />
        </SortableContext>
      </DndContext>
      <ol>
        <DefaultRow
          policy={policy}
          figures={report?.default}
          whole={whole}
          chosen={place.rule === 'default'}
          onChoose={() => choose('default', 'decided')}
        />
      </ol>
    </section>
  );
}

/** Whether a rule has all these words in its name, its note or its sentence. */
function isLike({ rule, note, sentence }: PolicyBody['rules'][number], wanted: string): boolean {
  const text = `${rule} ${note ?? ''} ${sentence}`.toLowerCase();
  return wordsIn(wanted.toLowerCase()).every((word) => text.includes(word));
}

/** What the address says where a new rule is written; no rule can have this name. */
export const NEW = '+';
