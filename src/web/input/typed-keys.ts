/** The computer keyboard as a device: what a key has pressed it lets go, whatever part is chosen by then. */
import { partValues } from '#core/queries/values.ts';
import { notes } from '../audio/services.ts';
import { useSession } from '../stores/session.ts';
import { DeviceKeys } from './notes.ts';
import type { SliceKeys } from './use-bench-keys.ts';

/** The computer keyboard knows no strength. */
const TYPED_VELOCITY = 0.9;

export function useTypedKeys(): SliceKeys {
  const session = useSession();
  const typed = new DeviceKeys(notes);
  return {
    down: (offset, timeStamp) => {
      const { part } = session;
      const key = part ? partValues(part).startKey + offset : 128;
      if (part && key <= 127) typed.down(offset, part.id, key, TYPED_VELOCITY, timeStamp);
    },
    up: (offset, timeStamp) => typed.up(offset, timeStamp),
  };
}
