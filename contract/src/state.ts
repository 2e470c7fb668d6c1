/** A state of the workspace: `draft`, `published`, or the number of a revision. Without it, the draft. */
export interface StateQuery {
  readonly state?: string;
}
