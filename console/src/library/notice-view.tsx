import type { NoticeBody } from '@jade-fence/contract';
import { useFetched } from '../api/fetching.js';

/** A notice of the draft as a stopped client sees it, of a made-up request. */
export function NoticePreview({ notice }: { readonly notice: string }) {
  const shown = useFetched('GET /notices/:name', { params: { name: notice } }).data;
  return shown ? <NoticeView notice={shown} of="the request is made up" /> : null;
}

interface NoticeViewProps {
  readonly notice: NoticeBody;
  /** What is made up of it, in words. */
  readonly of: string;
}

/** A notice as a stopped client sees it. */
export function NoticeView({ notice: { title, status, detail, contact }, of }: NoticeViewProps) {
  return (
    <figure className="my-3 max-w-xl" aria-label="As the client sees it">
      <div className="rounded-md border border-line bg-sheet p-5 shadow-sm">
        <p className="mb-2 text-page font-semibold">{title}</p>
        {(detail ?? '').split('\n\n').map((paragraph) => (
          <p key={paragraph} className="mb-2">
            {paragraph}
          </p>
        ))}
        {contact && <p className="text-soft">Ask {contact}</p>}
      </div>
      <figcaption className="text-soft">
        As the client sees it, with status {status}; {of}.
      </figcaption>
    </figure>
  );
}
