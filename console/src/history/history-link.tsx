import { Link } from 'react-router';

/** The way to the versions that an object had. */
export function HistoryLink({ kind, name }: { readonly kind: string; readonly name: string }) {
  return (
    <Link to={`/history/${kind}/${name}`} className="text-iris hover:underline">
      History
    </Link>
  );
}
