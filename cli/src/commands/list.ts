import type { ListBody } from '@jade-fence/contract';
import { noun } from '../nouns.js';
import { safe, safeLines } from '../output/safe.js';
import { count } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { formatLists } from '../output/workspace.js';
import { examples, type Register } from './command.js';

export const registerList: Register = (program, act) => {
  const list = noun(program, 'list');

  list
    .command('list')
    .summary('all lists of the draft')
    .action(
      act(async ({ client, show, terminal }) => {
        const { lists } = await client.call('GET /workspace');
        show({ lists }, () => (lists.length === 0 ? 'The draft has no list.' : formatLists(lists, terminal.paint)));
        return undefined;
      }),
    );

  list
    .command('show')
    .summary('one list: what is in it, and which policies use it')
    .description(
      'Shows a list with its entries as they were written, and the policies that use it, directly or through others.',
    )
    .argument('<name>', 'the list')
    .option('--text', 'print its document as it is stored, and nothing else')
    .addHelpText(
      'after',
      examples(
        'jade-fence list show harvester-networks',
        'jade-fence list show edge-proxies --text > edge-proxies.yaml',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, name: string, { text }: { readonly text?: boolean }) => {
        const found = await client.call('GET /lists/:name', { params: { name } });
        show(
          found,
          (answer) => (text ? safeLines(answer.text) : formatList(answer, terminal.paint)),
          text ? 'document' : 'prose',
        );
        return undefined;
      }),
    );
};

const MOST_LINES = 40;

function formatList(body: ListBody, paint: Paint): string {
  const { list, of, entries, expired, include, users, addresses, text } = body;
  const gone = expired > 0 ? `, ${count(expired)} of them expired` : '';
  const cover = addresses === null ? '' : `, which cover ${formatMany(addresses)}`;
  const includes = include.length > 0 ? `, includes ${include.join(', ')}` : '';
  const lines = text.trimEnd().split('\n');
  const shown = lines.slice(0, MOST_LINES).map((line) => `  ${safe(line)}`);
  const more = lines.length - shown.length;
  return [
    `${paint.bold(list)}: ${count(entries)} ${of}${cover}${gone}${includes}`,
    users.length === 0 ? '  used by no policy' : users.map((user) => `  ${formatUser(user)}`).join('\n'),
    shown.join('\n') +
      (more > 0
        ? paint.dim(`\n  … and ${count(more)} more lines; see them with \`jade-fence entry list ${list}\``)
        : ''),
  ].join('\n\n');
}

function formatUser({ policy, rule, through }: ListBody['users'][number]): string {
  const where = rule === null ? `${policy} covers or trusts by it` : `used by ${policy} / ${rule}`;
  return through.length === 0 ? where : `${where}, through ${through.join(' and ')}`;
}

/** IPv6 networks have more addresses than one reads digit by digit. */
function formatMany(addresses: string): string {
  const whole = BigInt(addresses);
  if (whole < 10n ** 12n) return `${whole.toLocaleString('en')} address${whole === 1n ? '' : 'es'}`;
  return `about ${Number(whole).toExponential(1)} addresses`;
}
