import { parseLetter, type LetterContent, type Line } from '@palabra/core/letters';
import { IsInt, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import { MAX_ID, ParsedInto, type Moment, type Use } from '../wire/index.js';

export class NewLetterRequest {
  @IsString()
  @Length(1, 120, { message: 'A letter needs a name of 1 to 120 signs.' })
  name!: string;
  /** Key of a shipped template; without it, and without a letter to copy, the letter starts empty. */
  @IsOptional() @IsString() @MaxLength(40) template?: string;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) copyOf?: number;
}

export class LetterRequest {
  @IsInt() version!: number;
  @IsString()
  @Length(1, 120, { message: 'A letter needs a name of 1 to 120 signs.' })
  name!: string;
  @ParsedInto(parseLetter) content!: LetterContent;
}

/** A campaign that sends a letter. */
export interface LetterUse extends Use {
  /** It will send it by itself, at its time. */
  readonly waits: boolean;
}

export interface LetterLine {
  readonly id: number;
  readonly name: string;
  readonly subject: Line;
  readonly updatedAt: Moment;
  readonly uses: readonly LetterUse[];
}

export interface LetterReply {
  readonly id: number;
  readonly name: string;
  readonly version: number;
  readonly content: LetterContent;
  readonly updatedAt: Moment;
  readonly uses: readonly LetterUse[];
}

export interface PictureReply {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly size: number;
}

export interface PreviewReply {
  readonly subject: string;
  readonly preview: string;
  readonly text: string;
  /** Bytes of the HTML after link rewriting. */
  readonly bytes: number;
}
