/** SVG 1.1, in and out, for flat scenes. */
export { readSvg } from './read';
export { writeSvg } from './write';
