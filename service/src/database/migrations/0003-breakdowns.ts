/** Reports have their breakdowns in another form: what earlier replays kept goes the same way as before. */
export { down, up } from './0002-verdicts-by-outcome.js';
