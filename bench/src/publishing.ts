import { largeWorkspaceFiles } from './large/workspace.js';
import { type Figure, figureOf } from './measure.js';
import { benchService } from './service.js';

const RULES = 200;
const NAMES = 1_000_000;
const RUNS = 3;
const ASKED = { publish: 3000, entry: 500 };

/** Publishing a workspace of 200 rules and a list of a million names, and adding one name to it and publishing. */
export async function publishing(): Promise<Figure[]> {
  const service = await benchService();
  const names = Array.from(
    { length: NAMES },
    (_, at) => `n${(Math.imul(at, 2654435761) >>> 0).toString(36)}.host${at % 977}.example`,
  );
  const [policy, ...lists] = largeWorkspaceFiles(RULES).toReversed();
  const rule = '  - rule: listed\n    when: {host: [listed]}\n    then: block\n';
  const text = (policy?.text ?? '').replace(/^rules:\n/m, `rules:\n${rule}`);
  const publishes: number[] = [];
  const entries: number[] = [];
  await service.call('PUT', '/api/v1/workspace', { files: [...lists, policy], exact: true });
  await service.send('PUT', '/api/v1/lists/listed/entries?of=domains', `${names.join('\n')}\n`);
  for (let run = 0; run < RUNS; run++) {
    const files = [{ name: 'policy.yaml', text: `${text}# ${run}\n` }];
    await service.call('PUT', '/api/v1/workspace', { files });
    publishes.push(await timed(() => publish(service)));
    entries.push(
      await timed(async () => {
        await service.call('PATCH', '/api/v1/lists/listed/entries', { add: [{ entry: `more-${run}.example` }] });
        await publish(service);
      }),
    );
  }
  const shown = (name: string, unit: string) => ({ name, unit, floorName: 'target' });
  return [
    figureOf(shown('publish-200-rules', 'ms, with a list of a million names'), publishes, [ASKED.publish]),
    figureOf(shown('publish-one-entry', 'ms, one name added to the list and published'), entries, [ASKED.entry]),
  ];
}

const publish = (service: Awaited<ReturnType<typeof benchService>>) =>
  service.call('POST', '/api/v1/revisions', { message: 'Measured', acceptWarnings: true });

async function timed(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}
