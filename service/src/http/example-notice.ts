import type { NoticeBody } from '@jade-fence/contract';
import { exampleFacts, type Notice, noticeProblem } from '@jade-fence/core/notice';

/** The status of a block that has none of its own. */
export const BLOCKED = 403;

/** A notice as a client sees it that was stopped at `now`, in milliseconds since 1970, by a made-up request. */
export const exampleNotice = (notice: Notice, now: number): NoticeBody => ({
  notice: notice.name,
  ...noticeProblem(notice, BLOCKED, exampleFacts(now)),
});
