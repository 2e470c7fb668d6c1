const TONES: Readonly<Record<string, string>> = { '+': 'bg-jade-wash', '-': 'bg-plum-wash' };

/** Lines that differ, as a unified difference without its two lines of names. */
export function DifferingLines({ text }: { readonly text: string }) {
  return (
    <pre className="overflow-auto border border-line bg-sheet font-mono">
      {text
        .split('\n')
        .slice(2)
        .map((line, at) => (
          // Lines of a difference stay where they are.
          <span key={at} className={`block px-2 ${TONES[line[0] ?? ''] ?? ''}`}>
            {line || ' '}
          </span>
        ))}
    </pre>
  );
}
