import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import {
  RatingPreviewRequest,
  RatingScaleRequest,
  type MovedReply,
  type PersonRatingReply,
  type RatingPreviewReply,
  type RatingScaleReply,
} from '@palabra/contract/contacts';
import type { ContactId } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { RatingsService } from './ratings.service.js';

@Controller('api')
export class RatingsController {
  constructor(private readonly ratings: RatingsService) {}

  /** Who rose and who is fading. */
  @Get('ratings/moved')
  @Tells('own people')
  moved(@Asking() viewer: Viewer): Promise<MovedReply> {
    return this.ratings.moved(viewer);
  }

  @Get('ratings/scale')
  @May('settings')
  @Tells('own people')
  scale(): Promise<RatingScaleReply> {
    return this.ratings.scale();
  }

  @Put('ratings/scale')
  @May('settings')
  @Tells('own people')
  changeScale(@Body() request: RatingScaleRequest): Promise<RatingScaleReply> {
    return this.ratings.changeScale(request);
  }

  @Post('ratings/preview')
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  preview(@Body() request: RatingPreviewRequest): Promise<RatingPreviewReply> {
    return this.ratings.preview(request);
  }

  @Get('people/:id/rating')
  @Tells('own people')
  ofPerson(
    @Param('id', ParseIntPipe) id: ContactId,
    @Asking() viewer: Viewer,
  ): Promise<PersonRatingReply> {
    return this.ratings.ofPerson(id, viewer);
  }
}
