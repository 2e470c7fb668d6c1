import type { Verdict } from '@jade-fence/core/policy';

type GateVerdict = Verdict | 'uncovered';

type GateState = GateVerdict | 'tag';

const TONES: Record<GateState, string> = {
  allow: 'text-jade',
  block: 'text-plum',
  redirect: 'text-bluebell',
  challenge: 'text-bluebell',
  confirm: 'text-bluebell',
  unlock: 'text-bluebell',
  tag: 'text-soft',
  uncovered: 'text-soft',
};

/** What is in the gate between its posts. */
const LEAVES: Partial<Record<GateState, string>> = {
  allow: 'M2.500 5.500 5 4M11.500 5.500 9 4M2.500 10 5 8.500M11.500 10 9 8.500',
  block: 'M2.500 5.500h9M2.500 9.500h9M5.500 3v9M8.500 3v9',
  redirect: 'M2.500 8h6M6.500 5.500 9 8l-2.500 2.500',
  challenge: 'M2.500 7.500h9',
  confirm: 'm4.500 7.500 1.800 1.800 3.200-3.600',
  unlock: 'M7 5a1.500 1.500 0 1 1-.01 0M7 8v3.500',
  tag: 'M5 5h3l2 2.500-2 2.500H5z',
};

/** A verdict, or what a rule does: an open gate lets through, a closed one stops, and the word says so too. */
export function Gate({ verdict, word }: { readonly verdict: GateState; readonly word?: string }) {
  return (
    <span className={`inline-flex items-baseline gap-1 whitespace-nowrap font-medium ${TONES[verdict]}`}>
      <GateMark verdict={verdict} />
      {word ?? verdict}
    </span>
  );
}

function GateMark({ verdict }: { readonly verdict: GateState }) {
  return (
    <svg
      viewBox="0 0 14 14"
      className="size-3.5 flex-none translate-y-0.5"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
    >
      {verdict === 'uncovered' ? <path d="M2 12h10" strokeDasharray="2 2" /> : <path d="M2.500 12V3M11.500 12V3" />}
      {LEAVES[verdict] && <path d={LEAVES[verdict]} />}
    </svg>
  );
}
