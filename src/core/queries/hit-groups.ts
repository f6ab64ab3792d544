/** Groups of sounds that others may give way to. */
import type { Role } from '../analysis/role-names.ts';

const GROUP_OF: Partial<Record<Role, number>> = {
  kick: 1,
  snare: 2,
  rim: 2,
  clap: 2,
  'closed hat': 3,
  'open hat': 3,
};

/** Place of a role among the choices of the ducking's `under`: kicks, snares, hats; 0 for none of these. */
export function hitGroup(role: Role): number {
  return GROUP_OF[role] ?? 0;
}
