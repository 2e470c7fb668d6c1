import type { Gather } from './gather.js';
import { linesOf } from './lines.js';

/** Reads a hosts file, as systems keep it: an address and the names that have it, parted by blanks; `#` begins a comment. */
export function readHostsFile(text: string, gather: Gather): void {
  for (const { line, text: row } of linesOf(text, gather)) {
    const [first = '', ...names] = row.replace(/#.*$/, '').trim().split(/\s+/);
    if (first === '') continue;
    if (names.length === 0) {
      gather.fault(line, 'columns', row);
      continue;
    }
    const address = gather.address(first, line);
    if (address === undefined) continue;
    for (const name of names) {
      const host = gather.host(name, line);
      if (host !== undefined) gather.add(host, address, line);
    }
  }
}
