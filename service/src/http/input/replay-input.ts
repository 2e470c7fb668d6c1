import { EXPORT_FORMS, type ExportForm, JOB_STATES, type JobState, PURPOSES, type Purpose } from '@jade-fence/contract';
import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { SIDE_ROLES } from '@jade-fence/core/replay';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  ArrayUnique,
  IsArray,
  IsDefined,
  IsIn,
  IsObject,
  IsOptional,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsFlag } from './is-flag.js';
import { IsInstant } from './is-instant.js';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { Bare, type Extendable } from './mixin.js';
import { PageQuery } from './page-query.js';
import { withRedact } from './redact-input.js';
import { STATE, STATE_MESSAGE } from './state-query.js';
import { FileInput } from './workspace-input.js';

/** Adds to an input which requests it is about, by what the log says of them. */
function withLogFilter<T extends Extendable>(Base: T) {
  class Filtered extends Base {
    @IsOptional() @MaxLength(100) destination?: string;
    @IsOptional() @MaxLength(300) host?: string;
    @IsOptional() @MaxLength(2000) path?: string;
    @IsOptional() @MaxLength(32) method?: string;
    @IsOptional() @MaxLength(8) status?: string;
    @IsOptional() @Matches(NAME, { message: NAME_MESSAGE }) category?: string;
    @IsOptional() @Matches(NAME, { message: NAME_MESSAGE }) application?: string;

    /** From this time on. */
    @IsOptional()
    @IsInstant()
    from?: string;

    /** Before this time. */
    @IsOptional()
    @IsInstant()
    to?: string;
  }
  return Filtered;
}

/** Which requests of its logs a replay is of. */
export class OnlyInput extends withLogFilter(Bare) {}

/** By what to judge. */
class JudgingInput {
  /** The state of the workspace to judge by: `draft`, `published`, or the number of a revision. */
  @IsOptional()
  @Matches(STATE, { message: STATE_MESSAGE })
  state = 'draft';

  /** Judge by this policy; without it, each request by the one that covers it. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;

  /** The instant at which the expiry of list entries is judged, RFC 3339; without it, now. */
  @IsOptional()
  @IsInstant()
  at?: string;
}

/** Which of the replays, and how many of the newest. */
export class ReplaysQuery extends PageQuery {
  /** Those that this log is among the logs of. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  log?: string;

  @IsOptional()
  @IsIn(JOB_STATES)
  state?: JobState;

  /** Those that you ordered yourself. */
  @IsOptional()
  @IsFlag()
  mine = false;
}

export class ReplayInput extends JudgingInput {
  /** `effect` is to show the effect of an edit: it is in no list, is removed after two hours, and not run twice. */
  @IsOptional()
  @IsIn(PURPOSES)
  purpose: Purpose = 'asked';

  /** One log; or several by `logs`, which are taken for one. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  log?: string;

  @IsOptional()
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(100)
  @ArrayUnique({ message: 'logs are named once each' })
  @Matches(NAME, { each: true, message: NAME_MESSAGE })
  logs?: string[];

  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => OnlyInput)
  only?: OnlyInput;

  /** Files to judge by in place of the workspace's own documents of the same names; they are not stored there. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(2000)
  @ArrayUnique((file: FileInput) => file?.name, { message: 'files have different names' })
  @ValidateNested({ each: true })
  @Type(() => FileInput)
  files?: FileInput[];
}

export const COUNTRY = /^(?:[A-Z]{2}|private|unknown|unseen)$/;
export const COUNTRY_MESSAGE = '$property is a code in capitals, or private, unknown or unseen';
export const ROLES = ['decided', ...SIDE_ROLES] as const;

/** Adds to a query which requests of a replay it is about. */
function withFilter<T extends Extendable>(Base: T) {
  class Filtered extends withLogFilter(Base) {
    @IsOptional()
    @IsIn([...VERDICTS, 'uncovered'])
    verdict?: Verdict | 'uncovered';

    @IsOptional()
    @Matches(NAME, { message: NAME_MESSAGE })
    policy?: string;

    @IsOptional()
    @Matches(NAME, { message: NAME_MESSAGE })
    rule?: string;

    @IsOptional()
    @IsIn(ROLES)
    role?: (typeof ROLES)[number];

    @IsOptional()
    @Matches(COUNTRY, { message: COUNTRY_MESSAGE })
    country?: string;

    @IsOptional()
    @Matches(COUNTRY, { message: COUNTRY_MESSAGE })
    destinationCountry?: string;

    @IsOptional() @MaxLength(100) client?: string;
  }
  return Filtered;
}

export class FilterQuery extends withRedact(withFilter(Bare)) {}

export class RequestsQuery extends withRedact(withFilter(PageQuery)) {}

/** One rule of a replay. */
export class EvidenceQuery extends withRedact(Bare) {
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;

  @Matches(NAME, { message: NAME_MESSAGE })
  rule!: string;

  @IsOptional()
  @IsIn(ROLES)
  role?: (typeof ROLES)[number];
}

export class ExportQuery extends FilterQuery {
  @IsIn(EXPORT_FORMS)
  form!: ExportForm;
}

export class ExplainInput extends JudgingInput {
  /** The request, in the fields of our JSON Lines form. */
  @IsDefined()
  @IsObject()
  request!: Record<string, unknown>;
}
