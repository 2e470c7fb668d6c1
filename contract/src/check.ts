import type { CheckedGrid } from '@jade-fence/core';

/** What checks gave, of one state of the workspace. */
export interface ChecksBody {
  readonly state: string;
  readonly checks: readonly CheckedGrid[];
  readonly failing: number;
}
