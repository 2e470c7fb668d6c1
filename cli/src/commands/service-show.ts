import type { WorkspaceBody } from '@jade-fence/contract';
import { noun } from '../nouns.js';
import { count } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { formatLists, formatObjects, formatPolicies } from '../output/workspace.js';
import type { Register } from './command.js';

export const registerServiceShow: Register = (program, act) => {
  noun(program, 'service')
    .command('show')
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

function formatWorkspace({ policies, lists, objects, countryData }: WorkspaceBody, paint: Paint): string {
  const country = countryData
    ? `Country data: ${count(countryData.networks)} networks from ${countryData.source}, of ${countryData.date}`
    : 'Country data: none is loaded, so no rule can see a country. Load it with `jade-fence country import FILE`.';
  if (policies.length + lists.length + objects.length === 0)
    return `The workspace is empty. Bring files into it with \`jade-fence workspace apply FOLDER\`.\n${country}`;
  return [
    formatPolicies(policies, paint),
    formatLists(lists, paint),
    ...(objects.length === 0 ? [] : [formatObjects(objects, paint)]),
    country,
  ].join('\n\n');
}
