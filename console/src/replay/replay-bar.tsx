import type { ReplayBody } from '@jade-fence/contract';
import { useState } from 'react';
import { useProgress } from '../api/progress.js';
import { useCancelReplay, useLogs, useStartReplay } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';

interface ReplayBarProps {
  readonly replays: readonly ReplayBody[];
  readonly shown: number | undefined;
  readonly onShow: (replay: number | undefined) => void;
}

/** Choosing a replay to look at, and running another. */
export function ReplayBar({ replays, shown, onShow }: ReplayBarProps) {
  const done = replays.filter((replay) => replay.state === 'done');
  const running = replays.find((replay) => replay.state === 'running' || replay.state === 'waiting');
  const options = done.map((replay) => ({
    value: replay.id,
    label: `#${replay.id} ${replay.logs.join(', ')}`,
    detail: [clock(replay.startedAt), ...partly(replay)].join(', '),
  }));
  return (
    <>
      <Choice label="Replay" value={shown ?? 0} options={options} empty="none yet" onChange={onShow} />
      {running ? <Running replay={running} /> : <Start onStarted={() => onShow(undefined)} />}
    </>
  );
}

function Running({ replay }: { readonly replay: ReplayBody }) {
  const cancel = useCancelReplay();
  useProgress(replay.id);
  return (
    <span className="flex items-center gap-2">
      <progress
        value={replay.done}
        max={replay.total}
        aria-label={`Replay ${replay.id}`}
        className="h-2 w-32 accent-iris"
      />
      <span role="status" className="text-soft">
        {replay.state === 'waiting' ? 'waiting for its turn' : `${count(replay.done)} of ${count(replay.total)}`}
        {replay.secondsLeft === null ? '' : `, ${count(replay.secondsLeft)} s left`}
      </span>
      <Button onClick={() => cancel.mutate(replay.id)}>Cancel</Button>
    </span>
  );
}

function Start({ onStarted }: { readonly onStarted: () => void }) {
  const logs = [...(useLogs().data?.logs ?? [])].sort((a, b) => b.importedAt.localeCompare(a.importedAt));
  const start = useStartReplay();
  const [chosen, setChosen] = useState<string>();
  const log = logs.find((each) => each.name === chosen) ?? logs[0];
  if (!log) return null;
  return (
    <span className="flex items-center gap-2">
      {logs.length > 1 && (
        <Choice
          label="Log"
          value={log.name}
          options={logs.map(({ name, requests }) => ({ value: name, label: name, detail: count(requests) }))}
          onChange={setChosen}
        />
      )}
      <Button disabled={start.isPending} onClick={() => start.mutate(log.name, { onSuccess: onStarted })}>
        Replay {log.name} now
      </Button>
      {start.error && <span role="alert">{start.error.message}</span>}
    </span>
  );
}

/** What makes a replay another than one of the whole log by the workspace as it was. */
const partly = ({ only, instead }: ReplayBody): string[] => [
  ...(only === null ? [] : ['some requests']),
  ...(instead.length === 0 ? [] : [`with ${instead.map(({ name }) => name).join(', ')} tried`]),
];
