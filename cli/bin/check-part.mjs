// The checks of one project in a worker, from the sources as they are.
import { register } from 'tsx/esm/api';

register();
const { default: checkPart } = await import('../src/check-part.ts');

export default checkPart;
