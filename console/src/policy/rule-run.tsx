import type { PolicyReport } from '@jade-fence/core';
import type { PolicyBody } from '@jade-fence/service/bodies';
import { count } from '../marks/count.js';
import { StanceChip } from '../marks/stance-chip.js';
import { DefaultRow } from './default-row.js';
import type { Go, Place } from './place.js';
import { RuleRow } from './rule-row.js';

interface RuleRunProps {
  readonly policy: PolicyBody;
  readonly report: PolicyReport | undefined;
  readonly place: Place;
  readonly go: Go;
}

/** A policy as an ordered run of rules, with the traffic that falls through them. */
export function RuleRun({ policy, report, place, go }: RuleRunProps) {
  const whole = report?.requests ?? 0;
  const choose = (rule: string, role: string) => go({ rule, role, verdict: undefined, country: undefined });
  return (
    <section aria-label={`Rules of ${policy.policy}`}>
      <div className="flex items-baseline gap-3 px-4 py-3">
        <h1 className="font-mono text-page font-semibold">{policy.policy}</h1>
        <StanceChip stance={policy.stance} />
        <span className="text-soft">{policy.note}</span>
        {report && (
          <span className="ml-auto flex-none text-soft">
            <span className="font-mono">{count(whole)}</span> requests fall in
          </span>
        )}
      </div>
      <ol>
        {policy.rules.map((rule, index) => (
          <RuleRow
            key={rule.rule}
            number={index + 1}
            rule={rule}
            figures={report?.rules.find((each) => each.rule === rule.rule)}
            whole={whole}
            remarks={(report?.remarks ?? []).filter((remark) => remark.rule === rule.rule).map((remark) => remark.text)}
            chosen={place.rule === rule.rule ? place.role : undefined}
            onChoose={(role) => choose(rule.rule, role)}
          />
        ))}
        <DefaultRow
          policy={policy}
          figures={report?.default}
          whole={whole}
          chosen={place.rule === 'default'}
          onChoose={() => choose('default', 'decided')}
        />
      </ol>
    </section>
  );
}
