import type { Live } from '@jade-fence/core/live';

/** The rules of one revision, ready to decide. One request is judged by one of them, as a whole. */
export interface InForce {
  readonly revision: number;
  readonly live: Live;
}
