import { useFetched } from '../api/fetching.js';
import { Findings } from '../marks/findings.js';

/** What the review finds about one object. */
export function ObjectFindings({ kind, name }: { readonly kind: string; readonly name: string }) {
  const findings = useFetched('GET /review').data?.findings ?? [];
  const own = findings.filter(({ object }) => object?.kind === kind && object.name === name);
  if (own.length === 0) return null;
  return (
    <div className="mb-3">
      <Findings findings={own} onMend={undefined} />
    </div>
  );
}
