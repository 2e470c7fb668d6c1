/** Text that came from a log or a file, without what would steer the terminal. */
export function safe(text: string): string {
  return text.replace(
    /[\u0000-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g,
    (character) => `\\x${character.charCodeAt(0).toString(16).padStart(2, '0')}`,
  );
}

/** The same of a text of several lines, which stay lines, and are indented by what they are. */
export const safeLines = (text: string): string =>
  text
    .split(/\r?\n/)
    .map((line) => line.split('\t').map(safe).join('\t'))
    .join('\n');
