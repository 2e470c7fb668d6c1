import type { ListBody } from '@jade-fence/service/bodies';
import { safe } from '../output/safe.js';
import { count } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

export const registerList: Register = (program, act) => {
  program
    .command('list')
    .summary('one list: what is in it, and which policies use it')
    .description(
      'Shows a list with its entries as they were written, and the policies that use it, directly or through others.',
    )
    .argument('<name>', 'the list')
    .option('--text', 'print its document as it is stored, and nothing else')
    .addHelpText(
      'after',
      examples('jade-fence list harvester-networks', 'jade-fence list edge-proxies --text > edge-proxies.yaml'),
    )
    .action(
      act(async ({ client, show, terminal }, name: string, { text }: { readonly text?: boolean }) => {
        const list = await client.get<ListBody>(`/api/lists/${encodeURIComponent(name)}`);
        show(list, (answer) => (text ? answer.text : formatList(answer, terminal.paint)));
        return undefined;
      }),
    );
};

function formatList({ list, of, entries, expired, include, usedBy, text }: ListBody, paint: Paint): string {
  const gone = expired > 0 ? `, ${count(expired)} of them expired` : '';
  const includes = include.length > 0 ? `, includes ${include.join(', ')}` : '';
  const users = usedBy.length > 0 ? `used by ${usedBy.join(', ')}` : 'used by no policy';
  const lines = text
    .trimEnd()
    .split('\n')
    .map((line) => `  ${safe(line)}`);
  return `${paint.bold(list)}: ${count(entries)} ${of}${gone}${includes}; ${users}\n${lines.join('\n')}`;
}
