// Letters: kept as they are made, shown as a reader will see them.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  LetterRequest,
  LetterUse,
  NewLetterRequest,
  PictureReply,
} from '@palabra/contract/letters';
import { oneLine, readerValue, type ContactId } from '@palabra/core/contacts';
import { idOf, type Clock, type Ids } from '@palabra/core/kernel';
import {
  emptyLetter,
  personalise,
  shippedTemplates,
  type CompiledLetter,
  type LetterContent,
  type LetterLook,
  type ReaderCopy,
  type LetterId,
} from '@palabra/core/letters';
import type { Viewer } from '@palabra/core/office';
import sharp from 'sharp';
import { PeopleService, Things, VocabularyService, valueOf, FieldUses } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { saveFile } from '../platform/files/files.store.js';
import { Problem } from '../platform/problem.js';
import { conflict, notFound } from '../platform/refusals.js';
import { CLOCK, CONFIG, IDS } from '../platform/time.js';
import { compileLetter } from './compile.js';
import * as store from './letters.store.js';
import { refuse } from './letters.refusals.js';

/** So many letters are kept ready to be shown. */
const SHOWN = 200;
const PICTURE_BYTES = 10 * 1024 * 1024;
const PICTURE_PIXELS = 50_000_000;
/** Twice the width of a letter's column, for sharp screens. */
const PICTURE_WIDTH = 1056;

type UsesOf = (
  db: Db,
  ids: readonly LetterId[],
) => Promise<ReadonlyMap<number, readonly LetterUse[]>>;

@Injectable()
export class LettersService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly vocabulary: VocabularyService,
    private readonly things: Things,
    private readonly fieldUses: FieldUses,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
    @Inject(IDS) private readonly ids: Ids,
  ) {}

  onModuleInit(): void {
    this.things.register('letter', (tx, id, at) => store.setLetterDeleted(tx, idOf(id), at));
    this.fieldUses.register('letter', (key) => store.lettersNaming(this.database.db, key));
  }

  async add(request: NewLetterRequest): Promise<LetterId> {
    const content = await this.start(request);
    return store.addLetter(this.database.db, this.name(request.name), content, this.clock.now());
  }

  private async start(request: NewLetterRequest): Promise<LetterContent> {
    if (request.copyOf !== undefined) return (await this.letter(idOf(request.copyOf))).content;
    if (request.template === undefined) return emptyLetter(this.ids.uuid());
    const template = shippedTemplates.find(({ key }) => key === request.template);
    if (!template) throw notFound('template');
    return template.content;
  }

  private uses: UsesOf | undefined;

  /** Whoever uses letters says at start which of them, and where. */
  registerUse(uses: UsesOf): void {
    this.uses = uses;
  }

  async usesOf(ids: readonly LetterId[]): Promise<ReadonlyMap<number, readonly LetterUse[]>> {
    if (!this.uses) throw new Error('nobody says what uses letters');
    return this.uses(this.database.db, ids);
  }

  all(): Promise<store.LetterLineRow[]> {
    return store.allLetters(this.database.db);
  }

  /** A letter that a planned campaign will send stays. */
  async remove(id: LetterId, viewer: Viewer): Promise<void> {
    const uses = (await this.usesOf([id])).get(id) ?? [];
    if (uses.some(({ waits }) => waits)) throw refuse('about-to-be-sent');
    await this.things.remove('letter', id, viewer);
  }

  async letter(id: LetterId): Promise<store.Letter> {
    const letter = await store.letterById(this.database.db, id);
    if (!letter) throw notFound('letter');
    return letter;
  }

  async change(id: LetterId, request: LetterRequest, viewer: Viewer): Promise<{ version: number }> {
    const changed = await this.database.transaction((tx) =>
      store.changeLetter(
        tx,
        id,
        request.version,
        this.name(request.name),
        request.content,
        viewer.userId,
        this.clock.now(),
      ),
    );
    if (changed) return { version: changed.version };
    const current = await this.letter(id);
    throw conflict('letter', {
      version: current.version,
      name: current.name,
      content: current.content,
    });
  }

  private name(text: string): string {
    const name = oneLine(text);
    if (name === '') throw refuse('no-name');
    return name;
  }

  async look(): Promise<LetterLook> {
    const office = await theOffice(this.database.db);
    return {
      officeName: office.name,
      postalAddress: office.postalAddress,
      language: office.language,
      baseUrl: this.config.publicUrl,
      hiddenLink: office.hiddenLink,
    };
  }

  async compile(content: LetterContent): Promise<CompiledLetter> {
    return compileLetter(content, await this.look());
  }

  /** Letters as they were last shown: a list shows many of them, again and again. */
  private readonly shown = new Map<string, CompiledLetter>();

  private async compiled({ id, version, content }: store.Letter): Promise<CompiledLetter> {
    const look = await this.look();
    const key = `${id} ${version} ${JSON.stringify(look)}`;
    const compiled = this.shown.get(key) ?? (await compileLetter(content, look));
    this.shown.delete(key);
    this.shown.set(key, compiled);
    for (const oldest of this.shown.keys()) {
      if (this.shown.size <= SHOWN) break;
      this.shown.delete(oldest);
    }
    return compiled;
  }

  async htmlOf(id: LetterId): Promise<string> {
    return this.asNobody(await this.compiled(await this.letter(id)));
  }

  /** The letter as nobody in particular gets it. */
  async asNobody(compiled: CompiledLetter): Promise<string> {
    return personalise(compiled.html, await this.previewReader(compiled, undefined), 'html');
  }

  /** The letter as one person would get it, with links that lead nowhere else and nothing counted. */
  async preview(
    id: LetterId,
    as: ContactId | undefined,
    viewer: Viewer,
  ): Promise<{ html: string; text: string; subject: string; bytes: number }> {
    const compiled = await this.compiled(await this.letter(id));
    const reader = await this.previewReader(compiled, as, viewer);
    const html = personalise(compiled.html, reader, 'html');
    return {
      html,
      text: personalise(compiled.text, reader, 'text'),
      subject: personalise(compiled.subject, reader, 'header'),
      bytes: Buffer.byteLength(html),
    };
  }

  private async previewReader(
    compiled: CompiledLetter,
    as: ContactId | undefined,
    viewer?: Viewer,
  ): Promise<ReaderCopy> {
    const links = {
      link: (link: number) => compiled.links[link]?.url ?? '#',
      leave: '#way-out',
      open: 'data:,',
    };
    if (as === undefined || !viewer) return { value: () => '', ...links };
    const row = await this.people.person(as, viewer);
    const { language } = await this.look();
    const fields = await this.vocabulary.fields();
    return {
      value: (key) => {
        const field = fields.get(key);
        return field ? readerValue(field, valueOf(row, key), language) : '';
      },
      ...links,
    };
  }

  /** Keeps a picture at the width a letter needs; refuses what is none, too large, or moving pixels beyond reason. */
  async addPicture(contents: Buffer): Promise<PictureReply> {
    if (contents.length > PICTURE_BYTES) throw refuse('large-picture');
    try {
      const picture = sharp(contents, { limitInputPixels: PICTURE_PIXELS, failOn: 'error' });
      const { format } = await picture.metadata();
      if (!['jpeg', 'png', 'webp', 'gif', 'avif', 'heif', 'tiff'].includes(format))
        throw new Error('not a picture');
      const sized = picture.rotate().resize({ width: PICTURE_WIDTH, withoutEnlargement: true });
      const isPng = format === 'png' || format === 'gif';
      const { data, info } = await (
        isPng ? sized.png({ compressionLevel: 9 }) : sized.jpeg({ quality: 82, mozjpeg: true })
      ).toBuffer({ resolveWithObject: true });
      const file = await saveFile(
        this.database.db,
        isPng ? 'image/png' : 'image/jpeg',
        [data],
        this.clock.now(),
      );
      return { file: file.id, width: info.width, height: info.height, size: file.size };
    } catch (error) {
      if (error instanceof Problem) throw error;
      throw refuse('no-picture');
    }
  }
}
