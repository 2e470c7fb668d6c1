import type { Explanation } from '@jade-fence/core/engine';
import { Gate } from '../marks/gate.js';
import { RoleMark } from '../marks/role-mark.js';

type Rule = Explanation['rules'][number];
type Test = Rule['when'][number]['tests'][number];

/** The rules in order, as the request met them: those that it passed by in a line, the others with their conditions. */
export function RulePath({ explanation }: { readonly explanation: Explanation }) {
  return (
    <ol>
      {explanation.rules.map((rule) => (
        <RuleStep key={rule.rule} rule={rule} />
      ))}
      {explanation.decidedBy === null && (
        <li className="flex items-baseline gap-2 border-t border-line py-1">
          <span className="font-mono font-semibold">default</span> decides: <Gate verdict={explanation.verdict} />
        </li>
      )}
    </ol>
  );
}

const TONES: Record<Rule['role'], string> = {
  decided: '',
  tagged: '',
  observed: 'text-ochre',
  overtaken: 'text-ochre',
  blind: 'text-ochre',
  passed: 'text-soft',
  off: 'text-soft',
};

function RuleStep({ rule }: { readonly rule: Rule }) {
  const shown = rule.role !== 'passed' && rule.role !== 'off';
  return (
    <li
      className={`border-t border-line py-1 ${rule.role === 'decided' ? (rule.then === 'allow' ? 'bg-jade-wash' : rule.then === 'block' ? 'bg-plum-wash' : 'bg-bluebell-wash') : ''}`}
      data-role={rule.role}
    >
      <p className="flex items-baseline gap-2">
        <span className={`flex-none self-center ${TONES[rule.role]}`}>
          <RoleMark of={rule.role} />
        </span>
        <span className={`flex-none font-mono ${shown ? 'font-semibold' : ''}`}>{rule.rule}</span>
        <span className={TONES[rule.role]}>{rule.text}</span>
      </p>
      {shown && (
        <ul className="ml-6">
          {rule.when.flatMap(({ tests }) =>
            tests.map((test) => <TestLine key={keyOf('when', test)} word="when" test={test} />),
          )}
          {rule.unless.flatMap(({ tests }) =>
            tests.map((test) => <TestLine key={keyOf('unless', test)} word="unless" test={test} />),
          )}
        </ul>
      )}
    </li>
  );
}

const keyOf = (word: string, test: Test) => `${word} ${test.field} ${test.wanted.join(' ')}`;
const MARKS: Record<Test['holds'], string> = { match: '✓', 'no match': '✗', unseen: '?' };
const READ: Record<Test['holds'], string> = { match: 'holds', 'no match': 'does not hold', unseen: 'cannot be seen' };

function TestLine({ word, test }: { readonly word: string; readonly test: Test }) {
  return (
    <li>
      <span aria-hidden="true">{MARKS[test.holds]}</span>
      <span className="sr-only">{READ[test.holds]}: </span> <span className="text-soft">{word}</span> {test.field}{' '}
      <code className="font-mono">{test.wanted.join(', ')}</code> <span className="text-soft">—</span> {test.because}
    </li>
  );
}
