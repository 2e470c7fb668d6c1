import { flatCountryFile, lookAtCountryFile } from '../country/compile.js';
import { writeKeptPlan } from '../kept/plan.js';
import { closeGatherer, countChunk, gatherRows, openGatherer, replayReport } from './calls/gather.js';
import { closeJudge, judgeChunk, openJudge, settleChunk } from './calls/judge.js';
import { closeReader, endReader, lookAtLog, openReader, readLines, readPiece } from './calls/read.js';

/** What a worker thread can be asked for. */
export const CALLS = {
  lookAtLog,
  readLines,
  openReader,
  readPiece,
  endReader,
  closeReader,
  openJudge,
  judgeChunk,
  settleChunk,
  closeJudge,
  openGatherer,
  gatherRows,
  countChunk,
  replayReport,
  closeGatherer,
  lookAtCountryFile,
  flatCountryFile,
  writeKeptPlan,
};

export type Calls = typeof CALLS;
export type CallName = keyof Calls;
