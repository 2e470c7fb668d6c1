import type { NoticeProblem } from '@jade-fence/core/notice';

/** A notice as a stopped client sees it. */
export type NoticeBody = NoticeProblem & { readonly notice: string };
