import type { MappingPreviewBody } from '@jade-fence/contract';

/** What the first lines are read as, line by line, and what is wrong with them. */
export function ReadAs({ found }: { readonly found: MappingPreviewBody }) {
  const { format, lines, ignored, missing } = found;
  const read = lines.filter(({ request }) => request !== null).length;
  const remarks = [
    ...(missing.length > 0 ? [`No line has anything at the place of ${missing.join(', ')}.`] : []),
    ...(ignored.length > 0 ? [`Ignored, since requests do not have it: ${ignored.join(', ')}.`] : []),
  ];
  return (
    <section aria-label="Read as" className="border border-line p-2">
      <p className={read === 0 ? 'text-plum' : 'text-soft'}>
        Read {read} of the first {lines.length === 1 ? 'line' : `${lines.length} lines`} as {format}.
      </p>
      {remarks.map((remark) => (
        <p key={remark} className="text-soft">
          {remark}
        </p>
      ))}
      <ol className="max-h-56 overflow-auto">
        {lines.map(({ line, request, reasons }) => (
          <li key={line} className="flex gap-3 border-t border-line/60 py-0.5">
            <span className="w-8 flex-none text-right font-mono text-soft">{line}</span>
            <span className="min-w-0">
              {request && (
                <span className="font-mono break-all">
                  {Object.entries(request).map(([field, value]) => (
                    <span key={field} className="mr-3 inline-block">
                      <span className="text-soft">{field}</span>{' '}
                      {typeof value === 'object' ? JSON.stringify(value) : String(value)}
                    </span>
                  ))}
                </span>
              )}
              {reasons.map((reason) => (
                <span key={reason} className="block text-plum">
                  {reason}
                </span>
              ))}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
