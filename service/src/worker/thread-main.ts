import { seedHashesAtRandom } from '../hash-secret.js';
import { answerCalls } from './answer-calls.js';
import { CALLS } from './calls.js';

seedHashesAtRandom();
answerCalls(CALLS);
