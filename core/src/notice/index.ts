export { EXAMPLE_REFERENCE, exampleFacts, noticeFacts, type StoppedRequest } from './facts.js';
export { type Notice, PLACEHOLDERS, type Placeholder } from './notice.js';
export { readNotice } from './read.js';
export { type NoticeFacts, type NoticeProblem, noticeHtml, noticeProblem } from './render.js';
export { noticeSentence } from './sentence.js';
