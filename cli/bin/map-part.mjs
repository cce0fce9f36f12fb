// A part of a map in a worker, from the sources as they are.
import { register } from 'tsx/esm/api';

register();
const { default: mapPart } = await import('../src/map-part.ts');

export default mapPart;
