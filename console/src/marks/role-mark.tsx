import type { ExplainedRole } from './roles.js';

/** What a rule did, as a mark; the word is beside it wherever it is used. */
export function RoleMark({ of: role }: { readonly of: ExplainedRole }) {
  return (
    <svg
      viewBox="0 0 14 14"
      className="size-3.5 flex-none"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
    >
      <path d={SHAPES[role]} strokeDasharray={role === 'blind' ? '1.5 2' : undefined} />
      {role === 'observed' && <circle cx="7" cy="7" r="1.300" fill="currentColor" stroke="none" />}
      {role === 'decided' && <path d="m4.500 7 2 2 3.500-4" />}
    </svg>
  );
}

const SHAPES: Record<ExplainedRole, string> = {
  decided: 'M2 2h10v10H2z',
  tagged: 'M2 4h6l4 3-4 3H2z',
  observed: 'M1 7c3-5 9-5 12 0-3 5-9 5-12 0z',
  overtaken: 'M3 12V8c0-3 2-4 8-4M8 1l3 3-3 3',
  blind: 'M7 2a5 5 0 1 0 .01 0',
  passed: 'M7 1v12',
  off: 'M3 7h8',
};
