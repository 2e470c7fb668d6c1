export { type Expectation, withExpectation } from './expect.js';
export { type FailingChange, failingCells, failingChange } from './failing.js';
export { probeRequest } from './probe-request.js';
export { type CellMend, type CheckedCell, type CheckedGrid, runChecks } from './run-checks.js';
