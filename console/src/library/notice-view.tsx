import type { ObjectBody } from '@jade-fence/service/bodies';
import { parse } from 'yaml';
import { useFetched } from '../api/fetching.js';

interface Notice {
  readonly status?: number;
  readonly title?: string;
  readonly text?: string;
  readonly contact?: string;
}

/** What stands for the request in a notice that is shown for none. */
const EXAMPLE: Readonly<Record<string, string>> = {
  host: 'www.lucky-petal.example',
  rule: 'no-wagering',
  policy: 'visitor-web',
};

interface NoticeViewProps {
  readonly notice: string;
  /** What is known of the request that is stopped; undefined: it is made up. */
  readonly facts?: Readonly<Record<string, string>>;
}

/** A notice as a stopped client sees it. */
export function NoticeView({ notice, facts }: NoticeViewProps) {
  const stored = useFetched<ObjectBody>(`/api/objects/notice/${encodeURIComponent(notice)}`).data;
  if (!stored) return null;
  const { status = 403, title, text = '', contact } = readNotice(stored.text);
  const filled = text.replace(/\{(\w+)\}/g, (_whole, name: string) => (facts ?? EXAMPLE)[name] ?? '–');
  return (
    <figure className="my-3 max-w-xl" aria-label="As the client sees it">
      <div className="rounded-md border border-line bg-sheet p-5 shadow-sm">
        <p className="mb-2 text-page font-semibold">{title}</p>
        {filled
          .trim()
          .split(/\n\s*\n/)
          .map((paragraph) => (
            <p key={paragraph} className="mb-2">
              {paragraph}
            </p>
          ))}
        {contact && <p className="text-soft">Ask {contact}</p>}
      </div>
      <figcaption className="text-soft">
        As the client sees it, with status {status}
        {facts ? '' : '; the request is made up'}.
      </figcaption>
    </figure>
  );
}

function readNotice(text: string): Notice {
  try {
    return (parse(text) ?? {}) as Notice;
  } catch {
    return {};
  }
}
