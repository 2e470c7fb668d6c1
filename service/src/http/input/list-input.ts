import { LIST_SORTS, type ListSort } from '@jade-fence/core/list';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsFlag } from './is-flag.js';
import { IsInstant } from './is-instant.js';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { PageQuery } from './page-query.js';

const MOST_ENTRIES = 1000;

export class ListQuery {
  /** `false` leaves out the text, which of a long list is large. */
  @IsOptional()
  @IsFlag()
  text = true;
}

/** Which entries of a list to show. */
export class EntriesQuery extends PageQuery {
  /** Only those that have this text in them or their note. */
  @IsOptional()
  @IsString()
  @Length(1, 300)
  search?: string;
}

export class EntryInput {
  @IsString()
  @Length(1, 4000)
  entry!: string;

  @IsOptional()
  @IsString()
  @MaxLength(300)
  note?: string;

  /** Until when it counts. */
  @IsOptional()
  @IsInstant()
  until?: string;
}

/** Entries that are to be added to a list, and removed. */
export class EntriesInput {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_ENTRIES)
  @ValidateNested({ each: true })
  @Type(() => EntryInput)
  add: EntryInput[] = [];

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_ENTRIES)
  @IsString({ each: true })
  @Length(1, 4000, { each: true })
  remove: string[] = [];
}

export class ImportEntriesQuery {
  /** What the entries are. */
  @IsIn(LIST_SORTS)
  of!: ListSort;

  /** Skip invalid lines, rather than refuse the file. */
  @IsOptional()
  @IsFlag()
  skip = false;
}

export class OverlapQuery {
  /** Another list of the same sort. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  with?: string;
}
