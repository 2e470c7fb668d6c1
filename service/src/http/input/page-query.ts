import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, Length, Max, Min } from 'class-validator';

class Limited {
  /** How many items come at most. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  limit = 100;
}

/** One page of what is numbered, in the order of the collection: from the lowest on, or from the newest. */
export class PageQuery extends Limited {
  /** The number of the last one that was seen. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(Number.MAX_SAFE_INTEGER)
  after?: number;
}

/** One page of what goes by name. */
export class NamedPageQuery extends Limited {
  /** The name of the last one that was seen. */
  @IsOptional()
  @IsString()
  @Length(1, 200)
  after?: string;
}
