import { LIST_SORTS, type ListSort } from '@jade-fence/core/list';
import { IsBoolean, IsIn, IsInt, IsOptional, Matches, Max, Min } from 'class-validator';

const SOURCE = /^(?:https?:\/\/[^\s/@]+(?:\/\S*)?|file:[A-Za-z0-9_][A-Za-z0-9._-]{0,199})$/;

/** Where a list comes from, and how often it is looked whether it is another. */
export class FeedInput {
  /** What the entries are. */
  @IsIn(LIST_SORTS)
  of!: ListSort;

  @Matches(SOURCE, {
    message: 'source is an address of the web without a password in it, or `file:` and a name in the folder of feeds',
  })
  source!: string;

  /** Seconds between two looks. */
  @IsOptional()
  @IsInt()
  @Min(60)
  @Max(30 * 86_400)
  every = 3600;

  /** Let it lead into private address space; for administrators. */
  @IsOptional()
  @IsBoolean()
  allowPrivate = false;

  /** Publish what changed by itself, with nothing else of the draft; for publishers. */
  @IsOptional()
  @IsBoolean()
  publish = false;
}
