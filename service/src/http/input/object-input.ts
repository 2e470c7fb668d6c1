import { IsString, MaxLength } from 'class-validator';

const LARGEST_TEXT = 64 * 1024 * 1024;

/** What an object of the workspace is to say. */
export class ObjectInput {
  @IsString()
  @MaxLength(LARGEST_TEXT)
  text!: string;
}
