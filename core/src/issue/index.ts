export type { DocumentPath, Fault, FaultCode, Issue, Shape, Site, Span } from './issue.js';
export { formatPath, type IssueReport, type Lines, linesOf, reportIssue } from './report.js';
export { suggest } from './suggest.js';
export { type Wording, wordingOf } from './wording.js';
