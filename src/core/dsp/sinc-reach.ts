/** Frames on each side of a position that reading between samples looks at. Apart, for those who only leave room. */
export const SINC_REACH = 16;
