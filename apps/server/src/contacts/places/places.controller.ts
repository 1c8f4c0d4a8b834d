import { Controller, Get, HttpCode, Post, Query, Req, Res } from '@nestjs/common';
import {
  GazetteerQuery,
  type GazetteerLoaded,
  type GazetteerPlace,
  type GazetteerReply,
} from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';
import type { Request, Response } from 'express';
import { untilGone } from '../../platform/gone.js';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { readBody } from '../../platform/upload.js';
import { PlacesService } from './places.service.js';

const LARGEST = 64 * 1024 * 1024;

@Controller('api/gazetteer')
export class PlacesController {
  constructor(private readonly places: PlacesService) {}

  @Get()
  @Tells('nobody')
  find(@Query() { q }: GazetteerQuery): Promise<GazetteerPlace[]> {
    return this.places.find(q);
  }

  /** What it holds, and how many people have no place in it. */
  @Get('about')
  @Tells('own people')
  about(@Asking() viewer: Viewer): Promise<GazetteerReply> {
    return this.places.about(viewer);
  }

  /** Loads a file of GeoNames; it takes the place of what was there. */
  @Post()
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  async load(
    @Req() request: Request,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<GazetteerLoaded> {
    return this.places.load(await readBody(request, LARGEST), viewer, untilGone(response));
  }
}
