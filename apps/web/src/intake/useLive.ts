// An import as it goes on: while its rows are looked at, brought in, or taken back.
import type { ImportReply } from '@palabra/contract/intake';
import { useDispatch } from 'react-redux';
import { server } from '../api/server';
import { useStream } from '../api/stream';

const isLooking = ({ state, look }: ImportReply): boolean =>
  state === 'uploaded' && !look.isCurrent;
const isMoving = (found: ImportReply): boolean =>
  found.state === 'running' || isLooking(found) || found.takenBack?.isDone === false;

export function useLive(found: ImportReply): ImportReply {
  const dispatch = useDispatch();
  const live = useStream<ImportReply>(
    isMoving(found) ? `/imports/${found.id}/live` : undefined,
    (next) => {
      if (isMoving(next)) return;
      dispatch(
        server.util.invalidateTags(
          next.state === 'uploaded'
            ? [{ type: 'Import', id: next.id }]
            : ['Import', 'People', 'Person', 'Segment', 'Campaign', 'Change', 'Vocabulary'],
        ),
      );
    },
  );
  if (!isMoving(found) || !live) return found;
  // What was said meanwhile is newer than what the stream has seen.
  return live.planVersion < found.planVersion ? found : live;
}
