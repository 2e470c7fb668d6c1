import { LOG_FORMATS, type LogFormat } from '@jade-fence/core';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional, Matches, Max, Min } from 'class-validator';

export const NAME = /^[a-z0-9-]{1,64}$/;
export const NAME_MESSAGE = '$property is 1 to 64 of the characters a-z, 0-9 and -';

export class ImportQuery {
  @Matches(NAME, { message: NAME_MESSAGE })
  name!: string;

  @IsOptional()
  @IsIn(LOG_FORMATS)
  format?: LogFormat;
}

export class RejectedQuery {
  /** The number of the last line that was seen. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  after = 0;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  limit = 100;
}
