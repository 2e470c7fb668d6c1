import type { ListBody } from '@jade-fence/contract';
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
        const list = await client.call('GET /lists/:name', { params: { name } });
        show(list, (answer) => (text ? answer.text : formatList(answer, terminal.paint)));
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
        ? paint.dim(`\n  … and ${count(more)} more lines; see them with \`jade-fence entries show ${list}\``)
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
