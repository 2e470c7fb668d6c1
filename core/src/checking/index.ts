export { type Expectation, withExpectation } from './expect.js';
export { probeRequest } from './probe-request.js';
export { type CellMend, type CheckedCell, type CheckedGrid, runChecks } from './run-checks.js';
