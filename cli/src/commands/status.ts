import type { WorkspaceBody } from '@jade-fence/contract';
import { count, table } from '../output/table.js';
import type { Register } from './command.js';

export const registerStatus: Register = (program, act) => {
  program
    .command('status')
    .summary('what the service holds: policies, lists, country data')
    .description('Shows the policies and lists of the workspace, and the country data in force.')
    .action(
      act(async ({ client, show, terminal }) => {
        const workspace = await client.call('GET /workspace');
        show(workspace, (answer) => formatWorkspace(answer, terminal.paint));
        return undefined;
      }),
    );
};

function formatWorkspace(
  { policies, lists, objects, countryData }: WorkspaceBody,
  paint: Parameters<typeof table>[2],
): string {
  const country = countryData
    ? `Country data: ${count(countryData.networks)} networks from ${countryData.source}, of ${countryData.date}`
    : 'Country data: none is loaded, so no rule can see a country. Load it with `jade-fence country load FILE`.';
  if (policies.length + lists.length + objects.length === 0)
    return `The workspace is empty. Bring files into it with \`jade-fence apply FOLDER\`.\n${country}`;
  const titled = (...titles: string[]) => titles.map((title) => ({ title }));
  const policyRows = policies.map((each) => [
    each.policy,
    String(each.ruleCount),
    each.default.then,
    each.stance,
    coverage(each.covers),
    each.note ?? '',
  ]);
  const listRows = lists.map((each) => [
    each.list,
    each.of,
    entries(each),
    each.include.join(', '),
    each.usedBy.join(', ') || paint.dim('no policy'),
  ]);
  const objectRows = objects.map((each) => [each.kind, each.name, each.sentence]);
  return [
    table(titled('policy', 'rules', 'default', 'stance', 'covers', 'note'), policyRows, paint),
    table(titled('list', 'of', 'entries', 'includes', 'used by'), listRows, paint),
    ...(objects.length === 0 ? [] : [table(titled('kind', 'name', 'what it is'), objectRows, paint)]),
    country,
  ].join('\n\n');
}

function coverage({ hosts, clients }: WorkspaceBody['policies'][number]['covers']): string {
  const shown = [
    hosts > 0 ? `${hosts} ${hosts === 1 ? 'host' : 'hosts'}` : '',
    clients > 0 ? `${clients} client ${clients === 1 ? 'network' : 'networks'}` : '',
  ];
  return shown.filter((each) => each !== '').join(', ') || 'nothing';
}

function entries({ entries: total, expired }: WorkspaceBody['lists'][number]): string {
  return expired > 0 ? `${count(total)} (${count(expired)} expired)` : count(total);
}
