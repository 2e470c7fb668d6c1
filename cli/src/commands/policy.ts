import type { PolicyBody } from '@jade-fence/contract';
import { noun } from '../nouns.js';
import { safe, safeLines } from '../output/safe.js';
import { table } from '../output/table.js';
import { verdictWord } from '../output/verdict.js';
import { formatPolicies } from '../output/workspace.js';
import { examples, type Register } from './command.js';

export const registerPolicy: Register = (program, act) => {
  const policy = noun(program, 'policy');

  policy
    .command('list')
    .summary('all policies of the draft')
    .action(
      act(async ({ client, show, terminal }) => {
        const { policies } = await client.call('GET /workspace');
        show({ policies }, () =>
          policies.length === 0 ? 'The draft has no policy.' : formatPolicies(policies, terminal.paint),
        );
        return undefined;
      }),
    );

  policy
    .command('show')
    .summary('one policy, its rules in order, each in a sentence')
    .description('Shows a policy as an ordered run of rules, each with a sentence of plain language.')
    .argument('<name>', 'the policy')
    .option('--text', 'print its document as it is stored')
    .addHelpText(
      'after',
      examples('jade-fence policy show ticket-site', 'jade-fence policy show ticket-site --text > ticket-site.yaml'),
    )
    .action(
      act(async ({ client, show, terminal }, name: string, { text }: { readonly text?: boolean }) => {
        const found = await client.call('GET /policies/:name', { params: { name } });
        show(
          found,
          (answer) => (text ? safeLines(answer.text) : formatPolicy(answer, terminal.paint)),
          text ? 'document' : 'prose',
        );
        return undefined;
      }),
    );
};

function formatPolicy(policy: PolicyBody, paint: Parameters<typeof table>[2]): string {
  const rows = policy.rules.map((rule, index) => [
    String(index + 1),
    rule.rule,
    verdictWord(rule.then, paint),
    rule.stance === 'enforce' ? '' : paint.yellow(rule.stance),
    safe(rule.sentence),
  ]);
  const last = ['', 'default', verdictWord(policy.default.then, paint), '', safe(policy.default.sentence)];
  const columns = [
    { title: '#', align: 'right' as const },
    ...['rule', 'then', 'stance', 'what it does'].map((title) => ({ title })),
  ];
  return `${paint.bold(policy.policy)}${policy.note ? `  ${paint.dim(safe(policy.note))}` : ''}\n${table(columns, [...rows, last], paint)}`;
}
