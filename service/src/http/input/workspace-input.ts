import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
  Validate,
  ValidateNested,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
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

const MOST_OBJECTS = 20_000;

@ValidatorConstraint()
class IsVersions implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    const versions = Object.values(value ?? {});
    return versions.length <= MOST_OBJECTS && versions.every((version) => Number.isSafeInteger(version));
  }

  defaultMessage(): string {
    return 'base gives the version of each object, such as {"list edge-proxies": 3}';
  }
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
  @Max(2_147_483_647)
  @Min(0)
  draft?: number;

  /**
   * The versions that the files were made from, by kind and name as `list edge-proxies`. What is to change must be at
   * them; and with `exact` only what is among them is removed.
   */
  @IsOptional()
  @IsObject()
  @Validate(IsVersions)
  base?: Record<string, number>;

  /** Undo what was edited here since files were last applied, too; without it the call is refused, and lists them. */
  @IsOptional()
  @IsBoolean()
  overwrite = false;
}

/** Files that are to be read and not stored. */
export class ReadingInput {
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(20)
  @ArrayUnique((file: FileInput) => file?.name, { message: 'files have different names' })
  @ValidateNested({ each: true })
  @Type(() => FileInput)
  files!: FileInput[];
}
