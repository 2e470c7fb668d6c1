import { LOG_FORMATS, type LogFormat } from '@jade-fence/core';
import { IsIn, IsOptional, Matches } from 'class-validator';

export const NAME = /^[a-z0-9-]{1,64}$/;
export const NAME_MESSAGE = '$property is 1 to 64 of the characters a-z, 0-9 and -';

export class ImportQuery {
  @Matches(NAME, { message: NAME_MESSAGE })
  name!: string;

  @IsOptional()
  @IsIn(LOG_FORMATS)
  format?: LogFormat;
}
