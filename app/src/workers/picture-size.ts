/** Size of a project's picture, in its own units: apart from the drawing of it, which home itself does not do. */
export const PICTURE = { width: 320, height: 180 };
