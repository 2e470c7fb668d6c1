import { flatCountryFile, lookAtCountryFile } from '../country/compile.js';
import { writeKeptPlan } from '../kept/plan.js';
import { lookAtResolutionFile } from '../resolution/look.js';
import { compileLoads, foldLoads } from '../resolution/packed.js';
import { closeCoordinator, countChunk, openCoordinator, replayReport, resolveRows } from './calls/coordinate.js';
import { hostAddressesOfChunk, hostsOfChunk } from './calls/hosts.js';
import { closeJudge, judgeChunk, openJudge, resolveChunk } from './calls/judge.js';
import { closeReader, endReader, lookAtLog, openReader, readLines, readPiece } from './calls/read.js';

/** The calls that a worker thread answers. */
export const CALLS = {
  lookAtLog,
  readLines,
  openReader,
  readPiece,
  endReader,
  closeReader,
  openJudge,
  judgeChunk,
  resolveChunk,
  closeJudge,
  openCoordinator,
  resolveRows,
  countChunk,
  replayReport,
  closeCoordinator,
  lookAtCountryFile,
  flatCountryFile,
  writeKeptPlan,
  compileLoads,
  foldLoads,
  lookAtResolutionFile,
  hostsOfChunk,
  hostAddressesOfChunk,
};

export type Calls = typeof CALLS;
export type CallName = keyof Calls;
