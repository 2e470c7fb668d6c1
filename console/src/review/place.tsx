import type { Finding } from '@jade-fence/core/review';
import { Link } from 'react-router';

/** Where a finding is: the rule, the policy or the object, as a link to it. */
export function PlaceOfFinding({ finding: { policy, rule, object } }: { readonly finding: Finding }) {
  const place = object
    ? { to: `/library/${object.kind}/${object.name}`, text: `${object.kind} ${object.name}` }
    : policy === null
      ? undefined
      : rule === null
        ? { to: `/policies/${policy}`, text: policy }
        : { to: `/policies/${policy}?rule=${encodeURIComponent(rule)}`, text: `${policy} / ${rule}` };
  if (!place) return null;
  return (
    <Link to={place.to} className="font-mono font-semibold hover:underline">
      {place.text}
    </Link>
  );
}
