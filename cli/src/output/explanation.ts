import type { ExplainedBody } from '@jade-fence/contract';
import type { Explanation } from '@jade-fence/core/engine';
import { targetOf } from './requests.js';
import { safe } from './safe.js';
import { indent } from './table.js';
import type { Paint } from './terminal.js';

type Rule = Explanation['rules'][number];
type Condition = Rule['when'][number];

const MARKS = { match: '✓', 'no match': '✗', unseen: '?' } as const;

/** The story of one request: the answer first, then who the client is, then every rule in order. */
export function formatExplanation({ request, explanation }: ExplainedBody, paint: Paint, changes: boolean): string {
  const target = paint.bold(safe(targetOf(request)));
  if (explanation === null) return `${target}\n\nNo policy covers this request, so it has no verdict.`;
  const effect =
    explanation.verdict === 'allow' ? paint.green : explanation.verdict === 'block' ? paint.red : paint.yellow;
  const rules = explanation.rules.map((rule, index) => formatRule(rule, index, paint, changes));
  const byDefault =
    explanation.decidedBy === null ? [`${paint.bold('default')}  Decides: ${explanation.verdict}.`] : [];
  return [
    target,
    [
      effect(safe(explanation.summary)),
      ...(explanation.unjudged === null ? [] : [paint.yellow(safe(explanation.unjudged))]),
    ].join('\n'),
    [
      `  client   ${safe(explanation.client.text)}`,
      `  country  ${safe(explanation.country.text)}`,
      ...explanation.destinations.map(({ text }, at) => `  ${at === 0 ? 'goes to' : '       '}  ${safe(text)}`),
      ...(explanation.resolved ? [`  resolved ${safe(explanation.resolved.text)}`] : []),
      `  policy   ${explanation.policy}${tagged(explanation.tags)}`,
    ].join('\n'),
    ...rules,
    ...byDefault,
  ].join('\n\n');
}

const tagged = (tags: readonly string[]): string => (tags.length === 0 ? '' : `\n  tags     ${tags.join(', ')}`);

function formatRule(rule: Rule, index: number, paint: Paint, changes: boolean): string {
  const decided = rule.role === 'decided';
  const quiet = rule.role === 'passed' || rule.role === 'off';
  const name = decided ? paint.bold(rule.rule) : rule.rule;
  const head = `${String(index + 1).padStart(2)}  ${name}  ${paint.dim(rule.sentence)}`;
  const shown = quiet
    ? paint.dim(safe(rule.text))
    : decided
      ? paint.bold(safe(rule.text))
      : paint.yellow(safe(rule.text));
  const details = quiet ? [] : [...conditions('when', rule.when, paint), ...conditions('unless', rule.unless, paint)];
  const toAct = changes && rule.toAct !== null ? [paint.dim(safe(rule.toAct))] : [];
  return [head, indent([shown, ...details, ...toAct].join('\n'), '    ')].join('\n');
}

function conditions(word: string, all: readonly Condition[], paint: Paint): string[] {
  return all.flatMap((condition) =>
    condition.tests.map(
      (test) =>
        `${MARKS[test.holds]} ${paint.dim(word)} ${test.field}: ${test.wanted.map(safe).join(', ')} ${paint.dim('—')} ${safe(test.because)}`,
    ),
  );
}
