/** The computer keyboard as a device: what a key has pressed it lets go, whatever part is chosen by then. */
import { notes } from '../audio/services.ts';
import { useSession } from '../stores/document/session.ts';
import { useTyping } from '../stores/keys/typing.ts';
import { DeviceKeys } from '../devices/notes.ts';
import type { SliceKeys } from './use-bench-keys.ts';

/** Number of the pedal (MIDI 1.0, "Control Change Messages"). */
const PEDAL = 64;

export function useTypedKeys(): SliceKeys {
  const session = useSession();
  const typing = useTyping();
  const typed = new DeviceKeys(notes);
  let pedalPart: string | null = null;
  return {
    down: (offset, timeStamp) => {
      const { part } = session;
      const key = typing.firstKey + offset;
      if (part && key >= 0 && key <= 127) typed.down(offset, part.id, key, typing.strength / 127, timeStamp);
    },
    up: (offset, timeStamp) => typed.up(offset, timeStamp),
    pedal: (isDown) => {
      if (isDown) pedalPart = session.part?.id ?? null;
      if (pedalPart) notes.control(pedalPart, PEDAL, isDown ? 1 : 0);
      if (!isDown) pedalPart = null;
    },
  };
}
