/** glTF 2.0, in and out. */

export { surfaceHull } from './colliders';
export type { NamedBytes } from './container';
export { projectIn, readGltf } from './read';
export { writeGlb, writeGltf } from './write';
