import { DOCUMENT_KINDS, type DocumentKind } from '@jade-fence/core/text';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { IsFlag } from './is-flag.js';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { Bare, type Extendable } from './mixin.js';
import { STATE, STATE_MESSAGE } from './state-query.js';

/** States that can be compared: also `nothing`, which was before the first publish. */
const COMPARED = new RegExp(`^nothing$|${STATE.source}`);
const COMPARED_MESSAGE = `${STATE_MESSAGE}, or \`nothing\``;

/** Two states of the workspace. */
export class DifferenceQuery {
  @IsOptional()
  @Matches(COMPARED, { message: COMPARED_MESSAGE })
  from = 'published';

  @IsOptional()
  @Matches(COMPARED, { message: COMPARED_MESSAGE })
  to = 'draft';

  /** Whether to include the lines that differ, which takes seconds for a list of a million entries. */
  @IsOptional()
  @IsFlag()
  text = false;
}

/** The number of the draft, so that a newer draft is not touched. */
class DraftInput {
  @IsOptional()
  @IsInt()
  @Max(2_147_483_647)
  @Min(0)
  draft?: number;
}

/** One object of the draft. */
export class ChosenInput {
  @IsIn(DOCUMENT_KINDS)
  kind!: DocumentKind;

  @Matches(NAME, { message: NAME_MESSAGE })
  name!: string;
}

const MOST_CHOSEN = 1000;

/** Adds to an input what is to be published, and why. */
function withChosen<T extends Extendable>(Base: T) {
  class Choosing extends Base {
    /** Why. */
    @IsString()
    @Length(1, 2000)
    message!: string;

    /** These objects of the draft alone; all else stays as it is published. */
    @IsOptional()
    @IsArray()
    @ArrayNotEmpty()
    @ArrayMaxSize(MOST_CHOSEN)
    @ValidateNested({ each: true })
    @Type(() => ChosenInput)
    only?: ChosenInput[];
  }
  return Choosing;
}

export class PublishInput extends withChosen(DraftInput) {
  /** Publish in spite of new warnings of the review. */
  @IsOptional()
  @IsBoolean()
  acceptWarnings = false;
}

export class ProposeInput extends withChosen(Bare) {}

export class ApproveInput {
  @IsOptional()
  @IsBoolean()
  acceptWarnings = false;
}

export class DiscardInput extends DraftInput {
  /** Only this object; without it, all of the draft. */
  @IsOptional()
  @IsIn(DOCUMENT_KINDS)
  kind?: DocumentKind;

  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  name?: string;
}

export class RestoreInput extends DiscardInput {
  /** The revision to fetch back into the draft. */
  @IsInt()
  @Max(2_147_483_647)
  @Min(1)
  revision!: number;
}
