import type { Explanation } from '@jade-fence/core';
import { parse } from 'yaml';
import { usePolicy } from '../api/queries.js';
import { placeOf, ruleTexts } from '../edit/policy-text.js';
import { readRule } from '../edit/rule-value.js';
import { NoticeView } from '../library/notice-view.js';

interface DecidedNoticeProps {
  readonly explanation: Explanation;
  readonly url: string;
}

/** The notice that a stopped client would see, as the rule that decided names it. */
export function DecidedNotice({ explanation, url }: DecidedNoticeProps) {
  const { policy, decidedBy, verdict } = explanation;
  const text = usePolicy(policy).data?.text;
  if (text === undefined || verdict === 'allow' || verdict === 'redirect') return null;
  const notice = noticeOf(decidedBy === null ? defaultOf(text) : thenOf(text, decidedBy));
  if (notice === undefined) return <p className="text-soft">The client is told no more than the status.</p>;
  const host = URL.canParse(url) ? new URL(url).hostname : (url.split(/[/:]/)[0] ?? '');
  return <NoticeView notice={notice} facts={{ host, policy, rule: decidedBy ?? 'default' }} />;
}

function thenOf(policy: string, rule: string): unknown {
  const value = readRule(ruleTexts(policy)[placeOf(policy, rule)] ?? '');
  return 'faults' in value ? undefined : value.then;
}

const defaultOf = (policy: string): unknown => (parse(policy) as { default?: unknown } | null)?.default;

function noticeOf(then: unknown): string | undefined {
  const inner: unknown = then !== null && typeof then === 'object' ? Object.values(then)[0] : undefined;
  const notice = inner !== null && typeof inner === 'object' ? (inner as { notice?: unknown }).notice : undefined;
  return typeof notice === 'string' ? notice : undefined;
}
