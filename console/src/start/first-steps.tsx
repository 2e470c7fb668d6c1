import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { useLogs, useReplays, useStartReplay, useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { BringFiles } from '../draft/bring-files.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Page } from '../frame/page.js';
import { Upload } from '../logs/upload.js';
import { FirstPolicy } from './first-policy.js';

/** What a service with nothing in it needs, in three steps: a policy, a log, and a replay of one by the other. */
export default function FirstSteps({ policy: shown }: { readonly policy?: string }) {
  const workspace = useWorkspace().data;
  const logs = useLogs().data?.logs;
  const replays = useReplays().data?.replays;
  const mayEdit = useMay('editor');
  const policy = shown ?? workspace?.policies[0]?.policy;
  const log = logs?.[0]?.name;
  const isReplayed = replays?.some(({ state }) => state === 'done') === true;
  const steps = (
    <ol className="max-w-2xl space-y-6">
      <Step
        number={1}
        title="A policy"
        isDone={policy !== undefined}
        done={`There is ${policy}, and you can write more rules into it at any time.`}
        what="Rules, in order, and what they cover. Begin with what you want, in a sentence:"
      >
        {mayEdit ? <FirstPolicy /> : <p>Somebody who may edit writes one; this page shows it then.</p>}
        {mayEdit && <BringFiles />}
      </Step>
      <Step
        number={2}
        title="A log"
        isDone={log !== undefined}
        done={`There is ${log}.`}
        what="Requests that were, from a web server, a proxy or a gateway. Nothing is done to anybody by it."
      >
        {mayEdit && <Upload known={[]} onBrought={() => undefined} />}
      </Step>
      <Step
        number={3}
        title="A replay"
        isDone={isReplayed}
        done="It shows what each rule decides, and why."
        what="The rules run over the log, and show which requests they would have stopped, and why."
      >
        {policy !== undefined && log !== undefined ? (
          <StartReplay {...{ log, policy, mayEdit }} />
        ) : (
          <p className="text-soft">It comes when there are both.</p>
        )}
      </Step>
    </ol>
  );
  if (shown !== undefined) return <div className="overflow-auto p-4">{steps}</div>;
  return (
    <Page title="The workspace is empty" about="Three steps to see what rules do to your traffic.">
      {steps}
    </Page>
  );
}

interface StepProps {
  readonly number: number;
  readonly title: string;
  readonly what: string;
  readonly isDone: boolean;
  readonly done: string;
  readonly children: ReactNode;
}

function Step({ number, title, what, isDone, done, children }: StepProps) {
  return (
    <li>
      <h2 className="text-head font-semibold">
        <span aria-hidden="true">{isDone ? '✓' : `${number}.`} </span>
        {isDone ? `${title}, done` : title}
      </h2>
      {isDone ? (
        <p className="text-soft">{done}</p>
      ) : (
        <div className="mt-1 space-y-2">
          <p className="text-soft">{what}</p>
          {children}
        </div>
      )}
    </li>
  );
}

interface StartReplayProps {
  readonly log: string;
  readonly policy: string;
  readonly mayEdit: boolean;
}

function StartReplay({ log, policy, mayEdit }: StartReplayProps) {
  const start = useStartReplay();
  const navigate = useNavigate();
  if (!mayEdit) return <p>Somebody who may edit runs it.</p>;
  return (
    <>
      <Button
        main
        disabled={start.isPending}
        onClick={() => start.mutate(log, { onSuccess: () => navigate(`/policies/${policy}`) })}
      >
        Replay {log} by these rules
      </Button>
      {start.error && <ErrorMessage error={start.error} />}
    </>
  );
}
