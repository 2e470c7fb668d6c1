import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsOptional,
  IsString,
  Length,
  Matches,
  ValidateNested,
} from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';

/** An application that is to be allowed, and where among the rules. */
export class AllowInput {
  @Matches(NAME, { message: NAME_MESSAGE })
  application!: string;

  /** The rule to put it above; without it, the last. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  above?: string;

  /** What to call the rule; without it, `allow-` and the application. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  rule?: string;
}

export class CatalogueSourceInput {
  /** The name of the source. */
  @IsString()
  @Length(1, 200)
  name!: string;

  /** Rows with a header. */
  @IsString()
  csv!: string;
}

/** Sources of a catalogue, the one that is to be believed first. */
export class CatalogueInput {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => CatalogueSourceInput)
  sources!: CatalogueSourceInput[];

  /** Tells what would change, and changes nothing. */
  @IsOptional()
  @IsBoolean()
  dryRun = false;
}
