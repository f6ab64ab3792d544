/** Draws what stands on the way to the keys strikes: where, how strong, in which order, and what comes next. */
import { AXIS_WIDTH, keyWidth, keyX, strengthY, type KeyTable } from '../../canvas/key-table-layout.ts';
import type { Stage } from '../../canvas/use-band-canvas.ts';
import type { StruckByHelper } from '../../stores/keys/recent-presses.ts';
import { keysBoxOf, outlineKey } from './keyboard-picture.ts';

export interface WayScene {
  /** The latest last. */
  struck: readonly StruckByHelper[];
  /** Keys that helpers hold, and the one that a runner plays next; -1 where there is none. */
  heldKeys: readonly number[];
  nextKey: number;
}

const DOT_PX = 5;
const ECHO_PX = 7;

export function drawStruck({ context, width, inks }: Stage, table: KeyTable, { struck, heldKeys, nextKey }: WayScene) {
  const each = keyWidth(table);
  const xOf = (key: number) => keyX(table, key) + each / 2;
  const isSeen = (key: number) => xOf(key) > AXIS_WIDTH && xOf(key) < width;
  const line = struck.filter(({ isEcho }) => !isEcho);
  context.strokeStyle = inks.ink;
  line.forEach(({ key, step }, place) => {
    const before = line[place - 1];
    if (!before || !isSeen(key) || !isSeen(before.key)) return;
    // The older, the fainter.
    context.globalAlpha = (place + 1) / line.length;
    context.lineWidth = place === line.length - 1 ? 2 : 1;
    context.beginPath();
    context.moveTo(xOf(before.key), strengthY(table, before.step));
    context.lineTo(xOf(key), strengthY(table, step));
    context.stroke();
  });
  context.lineWidth = 1;
  const last = line.at(-1);
  if (last && nextKey >= 0 && isSeen(nextKey) && isSeen(last.key)) {
    context.globalAlpha = 1;
    context.setLineDash([2, 3]);
    context.beginPath();
    context.moveTo(xOf(last.key), strengthY(table, last.step));
    context.lineTo(xOf(nextKey), strengthY(table, last.step));
    context.stroke();
    context.setLineDash([]);
  }
  struck.forEach((one, place) => {
    if (!isSeen(one.key)) return;
    const [x, y] = [xOf(one.key), strengthY(table, one.step)];
    context.globalAlpha = 0.35 + (0.65 * (place + 1)) / struck.length;
    if (one.isEcho) {
      context.fillStyle = inks.sheet;
      context.fillRect(x - ECHO_PX / 2, y - ECHO_PX / 2, ECHO_PX, ECHO_PX);
      context.strokeRect(x - ECHO_PX / 2, y - ECHO_PX / 2, ECHO_PX, ECHO_PX);
      return;
    }
    context.fillStyle = one === last ? inks.signal : inks.ink;
    context.beginPath();
    context.arc(x, y, DOT_PX, 0, 2 * Math.PI);
    context.fill();
  });
  context.globalAlpha = 1;
  context.save();
  context.translate(AXIS_WIDTH, 0);
  const keys = { context, width: width - AXIS_WIDTH, height: table.height, inks };
  for (const key of heldKeys)
    outlineKey(keys, keysBoxOf(table.keysTop, table.keysBottom), table.range, key, inks.signal);
  context.restore();
}
