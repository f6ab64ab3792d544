/** How much of one of several places is heard that give way to each other at equal power; `at` among them, from 0. */
export function shareOfPlace(place: number, at: number): number {
  const away = Math.abs(place - at);
  return away >= 1 ? 0 : Math.cos((away * Math.PI) / 2);
}
