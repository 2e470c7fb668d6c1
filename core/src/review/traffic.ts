import { parseAddress, setContains } from '../address/index.js';
import type { Prepared } from '../engine/index.js';
import { type Finding, ruleFinding } from './finding.js';

/** The remarks of a replay about the policies that it ran. */
export interface Remarked {
  readonly policies: readonly {
    readonly policy: string;
    readonly remarks: readonly { readonly code: string; readonly address?: string }[];
  }[];
}

interface Traffic {
  /** The replay in words, such as «replay 3 of week». */
  readonly of: string;
  /** How an address is shown, which policies may hide. */
  readonly show: (address: string) => string;
}

/** Findings about the present rules, from the traffic of a replay. */
export function reviewTraffic({ policies }: Remarked, { of, show }: Traffic, prepared: Prepared): Finding[] {
  return policies.flatMap(({ policy, remarks }) => {
    const trust = prepared.trust.get(policy);
    const own = prepared.workspace.policies.get(policy);
    if (trust === undefined || own === undefined || own.stance === 'off') return [];
    return remarks.flatMap(({ code, address: named }): Finding[] => {
      const address = named === undefined ? undefined : parseAddress(named);
      // It may have been added since.
      if (code !== 'forgotten-proxy' || address === undefined || setContains(trust.trusted, address)) return [];
      const shown = show(named as string);
      return [
        ruleFinding('forgotten-proxy', 'warning', policy, null, {
          what: `\`${policy}\` takes \`${shown}\` for a client, and all its requests name several others`,
          reason: `So it is in ${of}. If \`${shown}\` is your proxy, lists, countries and limits are judged on it, and not on its clients`,
          edit:
            own.client.from === 'peer'
              ? `Write \`client: {from: forwarded, trust: [${shown}]}\`, if it is your own`
              : `Add \`${shown}\` to \`trust\`, if it is your own`,
        }),
      ];
    });
  });
}
