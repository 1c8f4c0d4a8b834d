import type { Encoding, ImportState } from '@palabra/core/intake';

export const stateWords: Record<ImportState, string> = { uploaded: 'not begun', running: 'running', done: 'done', cancelled: 'cancelled', 'taken back': 'taken back' };
export const encodingWords: Record<Encoding, string> = { 'utf-8': 'UTF-8', 'windows-1252': 'Windows-1252', 'utf-16le': 'UTF-16', 'utf-16be': 'UTF-16, big-endian' };
