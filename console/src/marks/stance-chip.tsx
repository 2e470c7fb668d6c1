import type { Stance } from '@jade-fence/core/policy';

/** The stance of a rule or policy, where it is not the usual one. */
export function StanceChip({ stance }: { readonly stance: Stance }) {
  if (stance === 'enforce') return null;
  return <span className="rounded-sm bg-ochre-wash px-1.5 text-[11px] leading-4 font-medium text-ochre">{stance}</span>;
}
