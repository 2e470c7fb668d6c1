import { IsOptional, Matches } from 'class-validator';

/** How a state of the workspace is named. */
export const STATE = /^(?:draft|published|[1-9]\d{0,8})$/;
export const STATE_MESSAGE = '$property is `draft`, `published`, or the number of a revision';

/** A state of the workspace: the draft, where none is named. */
export class StateQuery {
  @IsOptional()
  @Matches(STATE, { message: STATE_MESSAGE })
  state = 'draft';
}
