// Do not mail set, or taken away, by hand is taken back as any other change, unless somebody else decided since.
import type { Viewer } from '@palabra/core/office';
import type { Db } from '../../platform/database.js';
import type { ChangeItem } from '../changes/changes.store.js';
import type { LockedContact } from '../people/person.store.js';
import type { Writing } from '../people/writer.js';
import {
  doNotMailEntry,
  mayTakeOff,
  putOnDoNotMail,
  takeOffDoNotMail,
} from './do-not-mail.store.js';

export async function undoStanding(
  tx: Db,
  writing: Writing,
  { id, address, addressHash }: LockedContact,
  { before, after }: ChangeItem,
  viewer: Viewer,
): Promise<void> {
  if (!addressHash) return;
  const entry = await doNotMailEntry(tx, addressHash);
  const wasPut = after['do_not_mail'] === true;
  if (wasPut) {
    if (!entry || !mayTakeOff(entry, viewer)) return;
    await takeOffDoNotMail(tx, addressHash, writing.now);
  } else {
    const note = before?.['note'];
    if (entry) return;
    await putOnDoNotMail(tx, {
      addressHash,
      address,
      reason: 'by hand',
      at: writing.now,
      note: typeof note === 'string' ? note : '',
      userId: viewer.userId,
    });
  }
  await writing.mark(id, { do_not_mail: wasPut }, { do_not_mail: !wasPut });
}
