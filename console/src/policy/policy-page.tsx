import type { PolicyBody, ReplayBody, WorkspaceBody } from '@jade-fence/contract';
import { lazy, Suspense, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { usePolicy, useReplays, useReport, useWorkspace } from '../api/queries.js';
import { useMay, useMe } from '../api/session.js';
import { EffectBar, type Extent } from '../compare/effect-bar.js';
import { useEffectOfDraft } from '../compare/use-effect-of-draft.js';
import { ShownReport } from '../edit/occurring.js';
import { useObjectEdit } from '../edit/use-object-edit.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Message, Waiting } from '../frame/message.js';
import { Panes } from '../frame/panes.js';
import { useTitle } from '../frame/title.js';
import { Overview } from '../overview/overview.js';
import { extentOf } from '../replay/extent.js';
import { ReplayBar } from '../replay/replay-bar.js';
import { type Go, HEAD, isAsking, type Place, usePlace } from './place.js';
import { NewPolicy } from './policy-acts.js';
import { NEW, RuleRun } from './rule-run.js';
import { useFall } from './use-fall.js';

/** What one opens is fetched when it is. */
const HeadEditor = lazy(() => import('../edit/head-editor.js'));
const RuleEditor = lazy(() => import('../edit/rule-editor.js'));
const RequestsPanel = lazy(() => import('../requests/requests-panel.js'));
const ExplanationPanel = lazy(() => import('../explanation/explanation-panel.js'));
/** Where nothing was replayed yet. */
const FirstSteps = lazy(() => import('../start/first-steps.js'));
const Begin = ({ policy }: { readonly policy: string }) => (
  <Suspense fallback={<Waiting what="what to do first" />}>
    <FirstSteps policy={policy} />
  </Suspense>
);

/** A policy and what traffic does to it: the rules at the left, what they hold at the right. */
export function PolicyPage() {
  const name = useParams().policy ?? '';
  const [place, go] = usePlace();
  useTitle(name);
  const navigate = useNavigate();
  const workspace = useWorkspace();
  const replays = useReplays().data?.replays ?? [];
  const chosen = useChosenReplay(replays, place.replay);
  const [asked, setAsked] = useState<{ readonly logs: string; readonly extent: Extent }>();
  const logs = chosen?.logs.join() ?? '';
  const isSmall = (chosen?.total ?? 0) <= MOST_REQUESTS;
  const extent = isSmall || asked?.logs !== logs ? undefined : asked.extent;
  const last = useReport(chosen?.id).data?.last ?? undefined;
  const sample = extent === 'last day' && last !== undefined ? dayBefore(last) : undefined;
  const effect = useEffectOfDraft(isWhole(chosen) && (isSmall || extent) ? chosen : undefined, sample);
  // What the draft does now is shown in place of what it did, where nobody chose a replay.
  const now = place.replay === undefined && sample === undefined ? effect.data?.comparison.after : undefined;
  const shown = useLoaded(now ?? chosen?.id ?? place.replay);
  const replay = useShownReplay(chosen, shown);
  const draft = useFetched('GET /draft').data;
  const mayAsk = useMay('editor') && draft?.changed === true && isWhole(chosen) && !isSmall && extent === undefined;
  const policy = usePolicy(name);
  const mayEdit = useMay('editor');
  if (workspace.error && !workspace.data) return <ErrorMessage error={workspace.error} />;
  if (!workspace.data) return <Waiting what="the workspace" />;
  const options = workspace.data.policies.map((each) => ({
    value: each.policy,
    label: each.policy,
    detail: each.note ?? '',
  }));
  const kept = place.replay === undefined ? '' : `?replay=${place.replay}`;
  return (
    <>
      <div className="flex flex-none flex-wrap items-center gap-x-5 gap-y-1 border-b border-line bg-sheet px-4 py-1.5">
        <Choice
          label="Policy"
          value={name}
          options={options}
          empty="none yet"
          onChange={(next) => navigate(`/policies/${next}${kept}`)}
        />
        {mayEdit && <NewPolicy />}
        <ReplayBar replays={replays} shown={chosen?.id} onShow={(next) => go({ replay: next })} />
        {replay?.outOfDate && (
          <span
            role="status"
            className="rounded-sm bg-ochre-wash px-2"
            title="Replay the log again to see what is so now"
          >
            out of date: the draft has changed since replay {replay.id}
          </span>
        )}
        <EffectBar
          {...{ effect, extent }}
          of={chosen}
          mayTakePart={draft?.published != null && last !== undefined}
          onAsk={mayAsk ? (wanted) => setAsked({ logs, extent: wanted }) : undefined}
        />
      </div>
      {policy.error && !policy.data && <ErrorMessage error={policy.error} />}
      {policy.isPending && <Waiting what="the policy" />}
      {policy.data && (
        <PolicyView
          key={name}
          policy={policy.data}
          workspace={workspace.data}
          shown={replay && replay.state !== 'done' ? undefined : shown}
          replay={replay}
          place={place}
          go={go}
        />
      )}
    </>
  );
}

const DAY_MS = 86_400_000;
/** The instant a day before another. */
const dayBefore = (time: string): string => new Date(Date.parse(time) - DAY_MS).toISOString();

/** Larger logs are replayed on request only. */
const MOST_REQUESTS = 200_000;

/** Whether a replay is of all of its logs, by the workspace alone. */
const isWhole = (replay: ReplayBody | undefined): boolean =>
  replay?.state === 'done' && replay.policy === null && replay.only === null && replay.instead.length === 0;

/** The replay that the address names; else the newest of the draft that one ran oneself, or that anybody ran. */
function useChosenReplay(replays: readonly ReplayBody[], named: number | undefined): ReplayBody | undefined {
  const me = useMe().data?.name;
  const listed = replays.find(({ id }) => id === named);
  const fetched = useFetched('GET /replays/:id', named !== undefined && !listed && { params: { id: named } }).data;
  if (named !== undefined) return listed ?? fetched;
  const done = replays.filter(
    ({ state, revision, instead }) => state === 'done' && revision === null && instead.length === 0,
  );
  return done.find(({ orderedBy }) => orderedBy === me) ?? done[0];
}

/** What is known of the replay whose figures are shown, which may be one that no list has. */
function useShownReplay(chosen: ReplayBody | undefined, shown: number | undefined): ReplayBody | undefined {
  const isOther = shown !== undefined && shown !== chosen?.id;
  const other = useFetched('GET /replays/:id', isOther && { params: { id: shown } }).data;
  return isOther ? other : chosen;
}

interface ViewProps {
  readonly policy: PolicyBody;
  readonly workspace: WorkspaceBody;
  readonly shown: number | undefined;
  /** What is known of the replay that is shown. */
  readonly replay: ReplayBody | undefined;
  readonly place: Place;
  readonly go: Go;
}

function PolicyView({ policy, workspace, shown, replay, place, go }: ViewProps) {
  const report = useReport(shown);
  const findings = useFetched('GET /review').data?.findings ?? [];
  const edit = useObjectEdit({ kind: 'policy', name: policy.policy, text: policy.text, version: policy.version });
  const mayEdit = useMay('editor');
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const figures = report.data?.policies.find((each) => each.policy === policy.policy);
  const fall = useFall(shown, figures, place);
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Panes
        id="rules"
        label="Widths of the rules and of what they hold"
        left={
          <div ref={setScroller} className="min-h-0 flex-1 overflow-auto bg-sheet">
            <RuleRun {...{ policy, findings, place, go, edit, mayEdit, scroller }} report={fall.report} of={fall.of} />
          </div>
        }
        right={
          <div className="flex min-h-0 flex-1 flex-col">
            <Suspense fallback={<Waiting what="what you opened" />}>
              {place.edit === HEAD && mayEdit ? (
                <HeadEditor policy={policy} workspace={workspace} edit={edit} onClose={() => go({ edit: undefined })} />
              ) : place.edit !== undefined && mayEdit ? (
                <ShownReport.Provider
                  value={report.data && shown !== undefined ? { replay: shown, report: report.data } : undefined}
                >
                  <RuleEditor
                    key={place.edit}
                    policy={policy}
                    workspace={workspace}
                    rule={place.edit === NEW ? undefined : place.edit}
                    edit={edit}
                    onClose={() => go({ edit: undefined })}
                  />
                </ShownReport.Provider>
              ) : (
                <Evidence {...{ policy, shown, replay, place, go }} />
              )}
            </Suspense>
            <Suspense fallback={null}>
              {shown !== undefined && place.request !== undefined && (
                <ExplanationPanel replay={shown} number={place.request} onClose={() => go({ request: undefined })} />
              )}
            </Suspense>
          </div>
        }
      />
    </main>
  );
}

/**
 * The replay to show: the one of before until the report of the wanted one is there, so that all that is shown is of one
 * replay, and nothing that somebody is about to press is drawn anew in between.
 */
function useLoaded(wanted: number | undefined): number | undefined {
  const report = useReport(wanted);
  const [loaded, setLoaded] = useState(wanted);
  const isThere = wanted === undefined || report.data !== undefined || report.error !== null;
  // React draws anew at once with what is set here, before anything is shown.
  if (isThere && loaded !== wanted) setLoaded(wanted);
  return isThere ? wanted : (loaded ?? wanted);
}

/** What the replay found: as a whole, or the requests of what was chosen. */
function Evidence({ policy, shown, replay, place, go }: Omit<ViewProps, 'workspace'>) {
  const report = useReport(shown);
  if (shown === undefined) return replay ? <NotDone replay={replay} /> : <Begin policy={policy.policy} />;
  if (report.error && !report.data) return <ErrorMessage error={report.error} />;
  if (!report.data) return <Waiting what="the report" />;
  const figures = report.data.policies.find((each) => each.policy === policy.policy);
  if (!isAsking(place) || !figures) return <Overview replay={replay} report={report.data} policy={figures} go={go} />;
  const extent = extentOf(replay);
  return <RequestsPanel {...{ extent, place, go }} replay={shown} report={report.data} policy={figures} />;
}

/** A replay that was ordered, or that came to nothing. */
function NotDone({ replay: { id, state, failure } }: { readonly replay: ReplayBody }) {
  if (state === 'waiting' || state === 'running') return <Waiting what={`replay ${id}`} />;
  return (
    <Message title={`Replay ${id} ${state === 'failed' ? 'failed' : 'was cancelled'}`}>
      <p>{failure ?? 'It was stopped before its end, and has no report.'}</p>
      <p>Choose another above, or replay the log again.</p>
    </Message>
  );
}
