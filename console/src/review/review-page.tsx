import type { Finding } from '@jade-fence/core/review';
import { useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { useSearch } from '../frame/search.js';
import { counted } from '../marks/count.js';
import { Findings } from '../marks/findings.js';
import { PlaceOfFinding } from './place.js';

const SEVERITIES = [
  { value: 'all', label: 'warnings and notes' },
  { value: 'warning', label: 'warnings' },
  { value: 'note', label: 'notes' },
];

/** All that the review finds in the rules themselves, each with its mend. */
export default function ReviewPage() {
  const { get, set } = useSearch();
  const review = useFetched('GET /review');
  const mayEdit = useMay('editor');
  if (review.error && !review.data) return <ErrorMessage error={review.error} />;
  if (!review.data) return <Waiting what="the review" />;
  const [severity, text] = [get('severity') || 'all', get('text')];
  const all = review.data.findings;
  const shown = all.filter(
    (finding) => (severity === 'all' || finding.severity === severity) && wordsOf(finding).includes(text.toLowerCase()),
  );
  return (
    <Page
      title="Review"
      about={
        all.length === 0
          ? 'Nothing is found in the rules of the draft.'
          : `What the rules of the draft cannot do, before any traffic: ${counted(all.filter(isWarning).length, 'warning', 'warnings')}, ${counted(all.filter((each) => !isWarning(each)).length, 'note', 'notes')}.`
      }
      acts={
        all.length > 0 && (
          <>
            <TextField label="Only those with" value={text} onChange={(next) => set('text', next)} />
            <Choice
              label="Show"
              value={severity}
              options={SEVERITIES}
              onChange={(next) => set('severity', next === 'all' ? '' : next)}
            />
          </>
        )
      }
    >
      {shown.length === 0 && all.length > 0 && <p className="text-soft">None is like that.</p>}
      <div className="max-w-4xl">
        {groupsOf(shown).map(([group, findings]) => (
          <Part key={group} title={group}>
            <Findings
              findings={findings}
              onMend={mayEdit ? 'in the draft' : undefined}
              above={(finding) => <PlaceOfFinding finding={finding} />}
            />
          </Part>
        ))}
      </div>
    </Page>
  );
}

const isWarning = ({ severity }: Finding): boolean => severity === 'warning';

const wordsOf = ({ code, policy, rule, object, what, reason, edit }: Finding): string =>
  [code, policy, rule, object?.kind, object?.name, what, reason, edit].join(' ').toLowerCase();

/** The findings by the policy or the kind of object that they are of; those with warnings first. */
function groupsOf(findings: readonly Finding[]): [string, Finding[]][] {
  const groups = new Map<string, Finding[]>();
  for (const finding of findings) {
    const name = finding.object ? `In the library: ${finding.object.kind}` : (finding.policy ?? 'All policies');
    groups.set(name, [...(groups.get(name) ?? []), finding]);
  }
  const sorted = [...groups].map(([name, own]): [string, Finding[]] => [
    name,
    own.toSorted((a, b) => Number(isWarning(b)) - Number(isWarning(a))),
  ]);
  return sorted.toSorted(([, a], [, b]) => b.filter(isWarning).length - a.filter(isWarning).length);
}
