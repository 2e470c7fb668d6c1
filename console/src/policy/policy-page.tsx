import type { ReplayBody, WorkspaceBody } from '@jade-fence/service/bodies';
import { useParams } from 'react-router';
import { useLogs, usePolicy, useReplays, useReport } from '../api/queries.js';
import { ExplanationPanel } from '../explanation/explanation-panel.js';
import { Command, ErrorMessage, Message, Waiting } from '../frame/message.js';
import { TopBar } from '../frame/top-bar.js';
import { Overview } from '../overview/overview.js';
import { extentOf } from '../replay/extent.js';
import { ReplayBar } from '../replay/replay-bar.js';
import { RequestsPanel } from '../requests/requests-panel.js';
import { type Go, type Place, usePlace } from './place.js';
import { RuleRun } from './rule-run.js';

/** A policy and what traffic does to it: the rules at the left, what they hold at the right. */
export function PolicyPage({ workspace }: { readonly workspace: WorkspaceBody }) {
  const name = useParams().policy ?? '';
  const [place, go] = usePlace();
  const replays = useReplays().data?.replays ?? [];
  const shown = shownReplay(replays, place.replay);
  const replay = replays.find(({ id }) => id === shown);
  return (
    <div className="flex h-screen flex-col">
      <TopBar workspace={workspace} policy={name}>
        <ReplayBar replays={replays} shown={shown} onShow={(replay) => go({ replay })} />
      </TopBar>
      <PolicyView name={name} shown={shown} replay={replay} place={place} go={go} />
    </div>
  );
}

/** The replay that the address names, else the newest that is done. */
function shownReplay(replays: readonly ReplayBody[], named: number | undefined): number | undefined {
  const done = replays.filter((replay) => replay.state === 'done');
  return named ?? done[0]?.id;
}

interface ViewProps {
  readonly name: string;
  readonly shown: number | undefined;
  /** What is known of the replay that is shown. */
  readonly replay: ReplayBody | undefined;
  readonly place: Place;
  readonly go: Go;
}

function PolicyView({ name, shown, replay, place, go }: ViewProps) {
  const policy = usePolicy(name);
  const report = useReport(shown);
  if (policy.error) return <ErrorMessage error={policy.error} />;
  if (!policy.data) return <Waiting what="the policy" />;
  const figures = report.data?.policies.find((each) => each.policy === name);
  const asked = place.rule !== undefined || place.country !== undefined || place.verdict !== undefined;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(28rem,5fr)_minmax(34rem,6fr)]">
      <div className="min-h-0 overflow-auto border-r border-line bg-sheet">
        <RuleRun policy={policy.data} report={figures} place={place} go={go} />
      </div>
      <div className="flex min-h-0 flex-col">
        {report.error && <ErrorMessage error={report.error} />}
        {shown === undefined && <NoReplay />}
        {shown !== undefined && !report.data && !report.error && <Waiting what="the report" />}
        {shown !== undefined && report.data && !(asked && figures) && (
          <Overview replay={replay} report={report.data} policy={figures} go={go} />
        )}
        {shown !== undefined && report.data && figures && asked && (
          <RequestsPanel
            replay={shown}
            extent={extentOf(replay)}
            report={report.data}
            policy={figures}
            place={place}
            go={go}
          />
        )}
        {shown !== undefined && place.request !== undefined && (
          <ExplanationPanel replay={shown} number={place.request} onClose={() => go({ request: undefined })} />
        )}
      </div>
    </main>
  );
}

function NoReplay() {
  const logs = useLogs().data?.logs ?? [];
  return (
    <Message title="No replay yet">
      <p>A replay runs these rules over a request log, and shows which requests each of them decides.</p>
      {logs.length > 0 ? <p>Press “Replay {logs[0]?.name} now” above.</p> : <p>Import a log first:</p>}
      {logs.length === 0 && <Command text="jade-fence replay --import demo/logs/week.jsonl" />}
    </Message>
  );
}
