import type { EvidenceBody, JudgedBody, SumBody } from '@jade-fence/contract';
import { keyText } from '@jade-fence/core/engine';
import { isRedacting, type Pseudonym, type Redaction, Redactor, redactedByAny } from '@jade-fence/core/redact';
import type { Remark, Report, RuleReport } from '@jade-fence/core/replay';

/** A request, and everything else that is shown of it. */
type ShownRequest = JudgedBody & { readonly explanation?: unknown };

/**
 * Redacts what is shown of a replay: in each request what its policy redacts, in figures what any of
 * the replay's policies redacts; and in all what the caller asks to redact.
 */
export class ReplayRedactor {
  readonly #byPolicy: ReadonlyMap<string, Redactor>;
  readonly #uncovered: Redactor;
  readonly #figures: Redactor;
  /** Whether there is nothing to redact at all. */
  readonly isIdle: boolean;

  constructor(byPolicy: ReadonlyMap<string, Redaction>, asked: Redaction, pseudonym: Pseudonym) {
    const redactor = (...redactions: Redaction[]) => new Redactor(redactedByAny(redactions), pseudonym);
    this.#byPolicy = new Map([...byPolicy].map(([policy, own]) => [policy, redactor(own, asked)]));
    this.#uncovered = redactor(asked);
    this.#figures = redactor(...byPolicy.values(), asked);
    this.isIdle = !isRedacting(redactedByAny([...byPolicy.values(), asked]));
  }

  request<T extends ShownRequest>(request: T): T {
    if (this.isIdle) return request;
    return (this.#byPolicy.get(request.policy ?? '') ?? this.#uncovered).shown(request);
  }

  report(report: Report): Report {
    if (this.isIdle) return report;
    const { client } = report.breakdowns;
    const rows = client.rows.map((row) => ({ ...row, key: row.key === null ? null : this.#figures.client(row.key) }));
    const policies = report.policies.map((policy) => ({
      ...policy,
      rules: policy.rules.map((rule) => this.#rule(rule)),
      remarks: policy.remarks.map((remark) => this.#remark(remark)),
    }));
    return { ...report, policies, breakdowns: { ...report.breakdowns, client: { ...client, rows } } };
  }

  /** An address, in the form that the figures show. */
  address(address: string): string {
    return this.#figures.client(address);
  }

  evidence<T extends Omit<EvidenceBody, 'of'>>(evidence: T): T {
    return this.isIdle ? evidence : { ...this.sum(evidence), rule: this.#rule(evidence.rule) };
  }

  /** What requests are, counted by their values. */
  sum<T extends Pick<SumBody, 'shares' | 'samples'>>(sum: T): T {
    if (this.isIdle) return sum;
    const { shares } = sum;
    const words = (share: (typeof shares)['client'], name: (key: string) => string) => ({
      ...share,
      rows: share.rows.map((row) => ({ ...row, key: row.key === null ? null : name(row.key) })),
    });
    return {
      ...sum,
      shares: {
        ...shares,
        client: words(shares.client, (key) => this.#figures.client(key)),
        agent: words(shares.agent, (key) => this.#figures.agent(key)),
      },
      samples: sum.samples.map((sample) => this.request(sample)),
    };
  }

  #remark(remark: Remark): Remark {
    if (remark.address === undefined) return remark;
    const address = this.#figures.client(remark.address);
    return {
      ...remark,
      address,
      text: remark.text
        .replaceAll(`\`${remark.address}\``, `\`${address}\``)
        .replaceAll(`[${remark.address}]`, `[${address}]`),
    };
  }

  #rule(rule: RuleReport): RuleReport {
    if (rule.limit === null) return rule;
    const { per } = rule.limit;
    const worst = rule.limit.worst.map((each) => {
      const parts = this.#figures.key(per, each.parts);
      return { ...each, parts, key: keyText(parts) };
    });
    return { ...rule, limit: { ...rule.limit, worst } };
  }
}
