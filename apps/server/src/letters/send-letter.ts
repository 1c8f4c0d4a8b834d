import type { Response } from 'express';

/** A letter in its frame may show pictures and its own styles, and nothing else. */
const PREVIEW_POLICY =
  "default-src 'none'; img-src 'self' data: http: https:; style-src 'unsafe-inline'; sandbox allow-popups; frame-ancestors 'self'";

/** A letter to look at: it loads pictures, runs nothing, and is framed by our pages only. */
export function sendLetter(response: Response, html: string): void {
  response.setHeader('Content-Security-Policy', PREVIEW_POLICY);
  response.setHeader('Cache-Control', 'no-store');
  response.type('html').send(html);
}
