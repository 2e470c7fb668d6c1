import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

let collect: (() => void) | undefined;

/**
 * Has what was let go given back now. A service that nobody asks allocates nothing, so that it would hold hundreds of
 * megabytes until somebody does.
 */
export function giveMemoryBack(): void {
  if (collect === undefined) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
}
