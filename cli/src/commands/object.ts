import type { LastChange, UsersBody, VersionBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { safe, safeLines } from '../output/safe.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register, wholeNumber } from './command.js';

const KIND = ['<kind>', 'its kind, such as `policy` or `list`'] as const;
const NAME = ['<name>', 'its name'] as const;

export const registerObject: Register = (program, act) => {
  const object = noun(program, 'object');

  object
    .command('list')
    .summary('all objects of the draft, by kind and name')
    .argument('[kind]', 'only those of this kind')
    .addHelpText('after', examples('jade-fence object list', 'jade-fence object list probe'))
    .action(
      act(async ({ client, show, terminal }, kind: string | undefined) => {
        const { policies, lists, objects } = await client.call('GET /workspace');
        const all = [
          ...policies.map(({ policy: name, ...rest }) => ({ kind: 'policy', name, ...rest })),
          ...lists.map(({ list: name, ...rest }) => ({ kind: 'list', name, ...rest })),
          ...objects,
        ].map(({ kind: own, name, changedAt, changedBy }) => ({ kind: own, name, changedAt, changedBy }));
        const chosen = all.filter((each) => kind === undefined || each.kind === kind);
        show({ objects: chosen }, () =>
          chosen.length === 0 ? `The draft has no ${kind ?? 'object'}.` : formatChosen(chosen, terminal.paint),
        );
        return undefined;
      }),
    );

  object
    .command('users')
    .summary('which rules, policies and objects name an object')
    .argument(...KIND)
    .argument(...NAME)
    .addHelpText('after', examples('jade-fence object users category wagering'))
    .action(
      act(async ({ client, show }, kind: string, name: string) => {
        const found = await client.call('GET /objects/:kind/:name/users', { params: { kind, name } });
        show(found, ({ users }) => users.map(userLine).join('\n') || 'Nothing names it.');
        return undefined;
      }),
    );

  object
    .command('show')
    .summary('print the text of one object: of the draft, or as it was in a version')
    .argument(...KIND)
    .argument(...NAME)
    .option(
      '--at <version>',
      'as it was in this version, as `object history` numbers them',
      wholeNumber(1, 2 ** 31 - 1),
    )
    .addHelpText(
      'after',
      examples('jade-fence object show policy visitor-web', 'jade-fence object show list edge-proxies --at 2'),
    )
    .action(
      act(async ({ client, show }, kind: string, name: string, { at }: { readonly at?: number }) => {
        const found =
          at === undefined
            ? await client.call('GET /objects/:kind/:name', { params: { kind, name } })
            : await client.call('GET /objects/:kind/:name/versions/:number', { params: { kind, name, number: at } });
        show(found, ({ text }) => safeLines(text), 'document');
        return undefined;
      }),
    );

  object
    .command('history')
    .summary('every version that one object had')
    .argument(...KIND)
    .argument(...NAME)
    .addHelpText(
      'after',
      examples('jade-fence object history policy visitor-web', 'jade-fence object history list edge-proxies'),
    )
    .action(
      act(async ({ client, show, terminal }, kind: string, name: string) => {
        const answer = await client.all('GET /objects/:kind/:name/versions', { params: { kind, name } });
        show(answer, ({ versions }) => formatVersions(versions, terminal.paint));
        return undefined;
      }),
    );

  withYes(object.command('remove'))
    .summary('remove one object from the draft')
    .description('Removes an object from the draft. One that others use is not removed; the answer names them.')
    .argument(...KIND)
    .argument(...NAME)
    .addHelpText('after', examples('jade-fence object remove probe visitor-phone'))
    .action(
      act(async (context, kind: string, name: string, { yes }: YesGiven) => {
        const { client, show } = context;
        const params = { kind: kind as DocumentKind, name };
        const { version } = await client.call('GET /objects/:kind/:name', { params });
        const consequence = [`The ${kind} ${name} would be gone from the draft; what is published keeps it.`];
        await requireConfirmed(context, yes, { consequence, question: 'Remove it?' });
        await client.call('DELETE /objects/:kind/:name', { params, version });
        show({ removed: { kind, name } }, () => `Removed ${kind} ${name} from the draft.`);
        return undefined;
      }),
    );
};

function formatChosen(
  objects: readonly ({ readonly kind: string; readonly name: string } & LastChange)[],
  paint: Paint,
): string {
  const columns = ['kind', 'name', 'changed', 'by'].map((title) => ({ title }));
  const rows = objects.map(({ kind, name, changedAt, changedBy }) => [
    kind,
    name,
    clock(changedAt),
    safe(changedBy ?? '–'),
  ]);
  return table(columns, rows, paint);
}

function formatVersions(versions: readonly VersionBody[], paint: Paint): string {
  const columns = [
    { title: 'version', align: 'right' as const },
    ...['changed', 'by', 'in revisions'].map((title) => ({ title })),
  ];
  const rows = versions.map(({ version, changedAt, changedBy, revisions }) => [
    String(version),
    clock(changedAt),
    safe(changedBy ?? '–'),
    revisions.length === 0 ? '·' : spans(revisions),
  ]);
  return table(columns, rows, paint);
}

/** «1–3, 5». */
function spans(numbers: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const number of numbers) {
    const last = runs.at(-1);
    if (last && last[1] === number - 1) last[1] = number;
    else runs.push([number, number]);
  }
  return runs.map(([first, last]) => (first === last ? String(first) : `${first}–${last}`)).join(', ');
}

/** A rule as `policy / rule`, anything else as its kind and name. */
const userLine = ({ kind, name, rule }: UsersBody['users'][number]): string =>
  safe(rule === null ? `${kind} ${name}` : `${name} / ${rule}`);
