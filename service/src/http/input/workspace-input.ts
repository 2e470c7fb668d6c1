import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsInt,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';

const LARGEST_TEXT = 64 * 1024 * 1024;

export class FileInput {
  @IsString()
  @Length(1, 300)
  name!: string;

  @IsString()
  @MaxLength(LARGEST_TEXT)
  text!: string;
}

/** The files of a workspace, to be applied. */
export class ApplyInput {
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(2000)
  @ArrayUnique((file: FileInput) => file?.name, { message: 'files have different names' })
  @ValidateNested({ each: true })
  @Type(() => FileInput)
  files!: FileInput[];

  /** Remove what the files do not hold. */
  @IsOptional()
  @IsBoolean()
  exact = false;

  /** Check, and change nothing. */
  @IsOptional()
  @IsBoolean()
  dryRun = false;

  /** The number of the draft that the files were made for; where it is another by now, nothing is changed. */
  @IsOptional()
  @IsInt()
  @Min(0)
  draft?: number;
}
