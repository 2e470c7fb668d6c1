import type { Verdict } from '@jade-fence/core';

type GateVerdict = Verdict | 'uncovered';

const WORDS: Record<GateVerdict, string> = { allow: 'allow', block: 'block', uncovered: 'uncovered' };
const TONES: Record<GateVerdict, string> = { allow: 'text-jade', block: 'text-plum', uncovered: 'text-soft' };

/** A verdict: an open gate lets through, a closed one stops, and the word says so too. */
export function Gate({ verdict, word }: { readonly verdict: GateVerdict; readonly word?: string }) {
  return (
    <span className={`inline-flex items-baseline gap-1 whitespace-nowrap font-medium ${TONES[verdict]}`}>
      <GateMark verdict={verdict} />
      {word ?? WORDS[verdict]}
    </span>
  );
}

function GateMark({ verdict }: { readonly verdict: GateVerdict }) {
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
      {verdict === 'allow' && <path d="M2.500 5.500 5 4M11.500 5.500 9 4M2.500 10 5 8.500M11.500 10 9 8.500" />}
      {verdict === 'block' && <path d="M2.500 5.500h9M2.500 9.500h9M5.500 3v9M8.500 3v9" />}
    </svg>
  );
}
