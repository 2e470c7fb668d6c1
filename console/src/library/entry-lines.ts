/** An entry as it is sent. */
export interface EntryLine {
  readonly entry: string;
  readonly note?: string;
}

/** Entries of lines, one each, with a note behind a blank and `#`; empty lines and those of a `#` are skipped. */
export const entriesOfLines = (text: string): readonly EntryLine[] =>
  text.split('\n').flatMap((line) => {
    const whole = line.trim();
    if (whole === '' || whole.startsWith('#')) return [];
    const [, entry = whole, note = ''] = /^(.*?)\s+#\s*(.*)$/.exec(whole) ?? [];
    return [note === '' ? { entry } : { entry, note }];
  });
