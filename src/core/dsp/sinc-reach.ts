/**
 * Frames on each side of a position that reading between samples looks at, at the most where a sound is read up to eight
 * times as fast as it runs. Apart, for those who only leave room.
 */
export const SINC_REACH = 288;
