import type { AuditBody, AuditVerdictBody } from '@jade-fence/contract';
import { save } from '../actions/save.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register, wholeNumber } from './command.js';

interface Given {
  readonly actor?: string;
  readonly action?: string;
  readonly kind?: string;
  readonly name?: string;
  readonly from?: string;
  readonly to?: string;
  readonly after?: number;
  readonly limit?: number;
  readonly output?: string;
}

const LONGEST_DETAIL = 60;

const FORMS = ['jsonl', 'csv'] as const;

export const registerAudit: Register = (program, act) => {
  const audit = noun(program, 'audit').description(
    'Every change, sign-in and publish. Entries are added and never changed.',
  );

  audit
    .command('list')
    .summary('its entries, the oldest first')
    .option('--actor <name>', 'only what this person did')
    .option('--action <action>', 'only this, such as `published` or `sign-in-failed`')
    .option('--kind <kind>', 'only what was done to this kind of thing')
    .option('--name <name>', 'only what was done to the one of this name')
    .option('--from <time>', 'from this time or day on')
    .option('--to <time>', 'before this time or day')
    .option('--after <number>', 'entries behind this one', wholeNumber(0, Number.MAX_SAFE_INTEGER))
    .option('--limit <number>', 'at most this many (default: 100)', wholeNumber(1, 1000))
    .option('-o, --output <file>', 'write all of them to a file: JSON Lines (.jsonl) or CSV (.csv)')
    .addHelpText(
      'after',
      examples(
        'jade-fence audit list --action published',
        'jade-fence audit list --from 2026-11-01 --output november.csv',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, { output, ...query }: Given) => {
        if (output !== undefined) {
          const form = FORMS.find((each) => output.toLowerCase().endsWith(`.${each}`));
          if (form === undefined) throw failure(EXIT.usage, 'which-form');
          await save(await client.download(`GET /audit.${form}`, { query }), output);
          show({ written: output }, () => `Wrote ${safe(output)}.`);
          return undefined;
        }
        const page = await client.call('GET /audit', { query });
        show(
          page,
          ({ entries, next }) =>
            formatAudit(entries, terminal.paint) + (next === null ? '' : `\n\nMore: --after ${next}`),
        );
        return undefined;
      }),
    );

  audit
    .command('verify')
    .summary('look whether an entry was changed or removed')
    .description(
      'Entries are chained by hash. Keep the head of the chain elsewhere: it shows later whether the past was changed.',
    )
    .option('--head <hash>', 'a head from earlier: is it still among the entries?')
    .addHelpText('after', examples('jade-fence audit verify', 'jade-fence audit verify --head 3f0a…'))
    .action(
      act(async ({ client, show }, { head }: { readonly head?: string }) => {
        const verdict = await client.call('GET /audit/verify', { query: { head } });
        show(verdict, formatAuditVerdict);
        return holds(verdict) ? undefined : EXIT.notHeld;
      }),
    );
};

const holds = ({ brokenAt, isCut, hasHead }: AuditVerdictBody): boolean =>
  brokenAt === null && !isCut && hasHead !== false;

function formatAuditVerdict(verdict: AuditVerdictBody): string {
  const { entries, head, brokenAt, isCut, hasHead } = verdict;
  const faults = [
    ...(brokenAt === null ? [] : [`Entry ${brokenAt} was changed, or one before it was removed.`]),
    ...(isCut ? ['Entries are missing at the end.'] : []),
    ...(hasHead === false ? ['The head that was given is not among the entries.'] : []),
  ];
  const shown = holds(verdict) ? [`All ${entries.toLocaleString('en')} entries follow from each other.`] : faults;
  return [...shown, `head  ${head}`].join('\n');
}

function formatAudit(entries: readonly AuditBody[], paint: Paint): string {
  if (entries.length === 0) return 'Nothing like that was done.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['when', 'who', 'what', 'to', 'more'].map((title) => ({ title })),
  ];
  const rows = entries.map(({ id, at, actor, action, kind, name, detail }) => [
    String(id),
    at.slice(0, 19).replace('T', ' '),
    safe(actor ?? '–'),
    action,
    kind === null ? '·' : safe(`${kind} ${name ?? ''}`),
    safe(formatDetail(detail)),
  ]);
  return table(columns, rows, paint);
}

function formatDetail(detail: AuditBody['detail']): string {
  const text = Object.entries(detail)
    .map(([name, value]) => `${name} ${typeof value === 'string' ? value : JSON.stringify(value)}`)
    .join(', ');
  return text.length > LONGEST_DETAIL ? `${text.slice(0, LONGEST_DETAIL - 1)}…` : text;
}
