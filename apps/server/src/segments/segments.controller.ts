import type { ContactId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { changesSegment, type SegmentFile, type SegmentId } from '@palabra/core/segments';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Res,
} from '@nestjs/common';
import {
  AddressesRequest,
  CombineRequest,
  CompareRequest,
  MembersRequest,
  MembersUndoRequest,
  NewSegmentRequest,
  SegmentFileRequest,
  SegmentRequest,
  SegmentStepRequest,
  SiftRequest,
  WhyRequest,
  type AddressesReply,
  type CompareReply,
  type DraftDifference,
  type MembersReply,
  type OlderRule,
  type RuleWordsReply,
  type SegmentLine,
  type SegmentReply,
  type SiftReply,
  type SizeOnDay,
  type StrainReply,
  type WhyReply,
} from '@palabra/contract/segments';
import type { Use } from '@palabra/contract/wire';
import type { Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import { Things } from '../contacts/index.js';
import { untilGone } from '../platform/gone.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { CLOCK } from '../platform/time.js';
import { SegmentFiles } from './files.service.js';
import { KindsService } from './kinds.service.js';
import { RulesService } from './rules.service.js';
import { SegmentsService, type CampaignUse } from './segments.service.js';
import type { SegmentHead } from './segments.store.js';
import { SiftingService } from './sifting.service.js';
import { TogetherService } from './together.service.js';

/** What nothing used for so long may be put away, in milliseconds. */
const IDLE_MS = 365 * 86_400_000;

interface Around {
  readonly viewer: Viewer;
  readonly uses: readonly CampaignUse[];
  readonly askedBy: readonly Use[];
  readonly now: Date;
}

function line(
  segment: Omit<SegmentHead, 'asks' | 'size'>,
  { viewer, uses, askedBy, now }: Around,
): SegmentLine {
  const started = uses.flatMap(({ startedAt }) => (startedAt ? [startedAt.getTime()] : []));
  const lastUsed = started.length === 0 ? null : Math.max(...started);
  const isWaitedFor = uses.length > started.length || askedBy.length > 0;
  return {
    id: segment.id,
    name: segment.name,
    description: segment.description,
    labels: segment.labels,
    kind: segment.kind,
    pools: segment.pools,
    owner: segment.owner,
    isMine: segment.ownerId === viewer.userId,
    sharing: segment.sharing,
    mayChange: changesSegment(viewer, segment),
    hasDraft: segment.hasDraft,
    updatedAt: segment.updatedAt.toISOString(),
    uses: uses.map(({ id, name, waits }) => ({ id, name, waits })),
    askedBy,
    lastUsedAt: lastUsed === null ? null : new Date(lastUsed).toISOString(),
    isIdle:
      !isWaitedFor &&
      now.getTime() - Math.max(lastUsed ?? 0, segment.updatedAt.getTime()) > IDLE_MS,
  };
}

@Controller('api/segments')
export class SegmentsController {
  constructor(
    private readonly segments: SegmentsService,
    private readonly sifting: SiftingService,
    private readonly rules: RulesService,
    private readonly kinds: KindsService,
    private readonly together: TogetherService,
    private readonly files: SegmentFiles,
    private readonly things: Things,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  @Get()
  @Tells('nobody')
  async list(@Asking() viewer: Viewer): Promise<SegmentLine[]> {
    const segments = await this.segments.list(viewer);
    const uses = await this.segments.usesOf(segments.map(({ id }) => id));
    const askedBy = await this.segments.askedBy(viewer);
    const now = this.clock.now();
    return segments.map((segment) =>
      line(segment, {
        viewer,
        uses: uses.get(segment.id) ?? [],
        askedBy: askedBy.get(segment.id) ?? [],
        now,
      }),
    );
  }

  /** What rules name beside fields, tags and topics. */
  @Get('words')
  @Tells('nobody')
  async words(@Asking() viewer: Viewer): Promise<RuleWordsReply> {
    const { campaigns } = await this.rules.context();
    return {
      campaigns: campaigns.map(({ id, name, at }) => ({
        id,
        name,
        at: new Date(at).toISOString(),
      })),
      segments: (await this.segments.list(viewer)).map(({ id, name, kind, poolIds }) => ({
        id,
        name,
        kind,
        pools: poolIds,
      })),
    };
  }

  /** Where the links of a campaign that went out lead, by their number. */
  @Get('links/:campaign')
  @Tells('nobody')
  links(@Param('campaign', ParseIntPipe) id: number): Promise<readonly string[]> {
    return this.rules.linksOf(id);
  }

  @Post()
  @May('make segments')
  @Tells('nobody')
  add(
    @Body() request: NewSegmentRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: SegmentId; version: number }> {
    return this.segments.add(request, viewer);
  }

  @Post('import')
  @May('make segments')
  @Tells('nobody')
  takeIn(
    @Body() { segment }: SegmentFileRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: SegmentId; version: number }> {
    return this.files.read(segment, viewer);
  }

  @Post('combine')
  @May('make segments')
  @Tells('nobody')
  combine(
    @Body() request: CombineRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: SegmentId; version: number }> {
    return this.together.combine(request, viewer);
  }

  @Post('compare')
  @HttpCode(200)
  @Tells('own people')
  compare(
    @Body() request: CompareRequest,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<CompareReply> {
    return this.together.compare(request, viewer, untilGone(response));
  }

  @Post('sift')
  @HttpCode(200)
  @Tells('own people')
  sift(
    @Body() request: SiftRequest,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SiftReply> {
    return this.sifting.sift(request, viewer, untilGone(response));
  }

  @Post('strain')
  @HttpCode(200)
  @Tells('own people')
  strain(
    @Body() request: SiftRequest,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StrainReply> {
    return this.sifting.strain(request, viewer, untilGone(response));
  }

  @Post('why')
  @HttpCode(200)
  @Tells('own people')
  why(@Body() request: WhyRequest, @Asking() viewer: Viewer): Promise<WhyReply> {
    return this.sifting.why(request, viewer);
  }

  /** The segments that somebody is in. */
  @Get('of/:person')
  @Tells('own people')
  ofPerson(@Param('person', ParseIntPipe) id: ContactId, @Asking() viewer: Viewer): Promise<Use[]> {
    return this.sifting.ofPerson(id, viewer);
  }

  @Get(':id')
  @Tells('nobody')
  async one(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Asking() viewer: Viewer,
  ): Promise<SegmentReply> {
    const segment = await this.segments.one(id, viewer);
    const mayChange = changesSegment(viewer, segment);
    return {
      ...line(
        { ...segment, hasDraft: segment.draftRule !== null },
        {
          viewer,
          uses: (await this.segments.usesOf([id])).get(id) ?? [],
          askedBy: (await this.segments.askedBy(viewer)).get(id) ?? [],
          now: this.clock.now(),
        },
      ),
      version: segment.version,
      poolIds: segment.poolIds,
      rule: segment.rule,
      inForceSince: segment.inForceSince?.toISOString() ?? null,
      inForceBy: segment.inForceByName,
      draft: segment.draftRule
        ? { rule: segment.draftRule, pools: segment.draftPoolIds ?? segment.poolIds }
        : null,
      sharedWith: mayChange ? segment.sharedWith : [],
    };
  }

  @Put(':id')
  @May('make segments')
  @Tells('nobody')
  change(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() request: SegmentRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ version: number }> {
    return this.segments.change(id, request, viewer);
  }

  /** Its rule as a file, with the names of what it asks for. */
  @Get(':id/file')
  @Tells('nobody')
  async file(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SegmentFile> {
    const file = await this.files.write(id, viewer);
    response.attachment(`segment-${id}.json`);
    return file;
  }

  /** What using the draft would change. */
  @Get(':id/difference')
  @Tells('own people')
  difference(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<DraftDifference> {
    return this.segments.difference(id, viewer, untilGone(response));
  }

  /** Puts the draft in force. */
  @Post(':id/use')
  @HttpCode(200)
  @May('make segments')
  @Tells('nobody')
  use(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { version }: SegmentStepRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ version: number }> {
    return this.segments.use(id, version, viewer);
  }

  /** Rules that were in force before, the latest first. */
  @Get(':id/rules')
  @Tells('nobody')
  olderRules(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Asking() viewer: Viewer,
  ): Promise<OlderRule[]> {
    return this.segments.olderRules(id, viewer);
  }

  @Get(':id/sizes')
  @Tells('nobody')
  sizes(@Param('id', ParseIntPipe) id: SegmentId, @Asking() viewer: Viewer): Promise<SizeOnDay[]> {
    return this.kinds.sizes(id, viewer);
  }

  /** Makes a live segment a fixed one of who is in it now. */
  @Post(':id/fix')
  @HttpCode(200)
  @May('make segments')
  @Tells('nobody')
  fix(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { version }: SegmentStepRequest,
    @Asking() viewer: Viewer,
  ): Promise<MembersReply> {
    return this.kinds.fix(id, version, viewer);
  }

  /** Makes a fixed segment follow its rule again. */
  @Post(':id/unfix')
  @HttpCode(200)
  @May('make segments')
  @Tells('nobody')
  unfix(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { version }: SegmentStepRequest,
    @Asking() viewer: Viewer,
  ): Promise<MembersReply> {
    return this.kinds.unfix(id, version, viewer);
  }

  @Post(':id/members')
  @HttpCode(200)
  @May('make segments')
  @Tells('own people')
  put(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { people }: MembersRequest,
    @Asking() viewer: Viewer,
  ): Promise<MembersReply> {
    return this.kinds.put(id, people, viewer);
  }

  @Post(':id/members/take')
  @HttpCode(200)
  @May('make segments')
  @Tells('own people')
  take(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { people }: MembersRequest,
    @Asking() viewer: Viewer,
  ): Promise<MembersReply> {
    return this.kinds.take(id, people, viewer);
  }

  /** Takes back what was done to the list at a moment. */
  @Post(':id/members/undo')
  @HttpCode(200)
  @May('make segments')
  @Tells('nobody')
  undo(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { at }: MembersUndoRequest,
    @Asking() viewer: Viewer,
  ): Promise<MembersReply> {
    return this.kinds.undo(id, new Date(at), viewer);
  }

  @Post(':id/members/addresses')
  @HttpCode(200)
  @May('make segments')
  @Tells('own people')
  putAddresses(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() { text }: AddressesRequest,
    @Asking() viewer: Viewer,
  ): Promise<AddressesReply> {
    return this.kinds.putAddresses(id, text, viewer);
  }

  @Delete(':id')
  @HttpCode(204)
  @May('make segments')
  @Tells('nobody')
  async remove(@Param('id', ParseIntPipe) id: SegmentId, @Asking() viewer: Viewer): Promise<void> {
    await this.segments.own(id, viewer);
    await this.things.remove('segment', id, viewer);
  }

  @Post(':id/restore')
  @HttpCode(204)
  @May('make segments')
  @Tells('nobody')
  async restore(@Param('id', ParseIntPipe) id: SegmentId, @Asking() viewer: Viewer): Promise<void> {
    await this.segments.mayRestore(id, viewer);
    await this.things.restore('segment', id);
  }
}
