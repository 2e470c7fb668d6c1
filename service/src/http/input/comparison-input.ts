import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional, Matches, Max, Min } from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { PageQuery } from './page-query.js';
import { withRedact } from './redact-input.js';
import { COUNTRY, COUNTRY_MESSAGE } from './replay-input.js';

const LARGEST = 2 ** 31 - 1;

export class ComparisonQuery {
  /** The number of the replay before. */
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(LARGEST)
  with!: number;
}

export class ChangesQuery extends withRedact(PageQuery) {
  /** The number of the replay before. */
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(LARGEST)
  with!: number;

  /** The verdict before. */
  @IsOptional()
  @IsIn([...VERDICTS, 'uncovered'])
  was?: Verdict | 'uncovered';

  /** The verdict now. */
  @IsOptional()
  @IsIn([...VERDICTS, 'uncovered'])
  is?: Verdict | 'uncovered';

  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;

  /** What decided before or decides now. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  rule?: string;

  /** The country of the client. */
  @IsOptional()
  @Matches(COUNTRY, { message: COUNTRY_MESSAGE })
  country?: string;

  /** The country of the destination. */
  @IsOptional()
  @Matches(COUNTRY, { message: COUNTRY_MESSAGE })
  destinationCountry?: string;
}
