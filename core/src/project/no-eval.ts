/**
 * Zod compiles its schemas with `new Function` where it may, which is twice as fast. A page with a strict policy forbids that, and even
 * trying is reported as a violation: only where there is no page is it tried. Imported before any schema is made.
 */
import * as z from 'zod';

z.config({ jitless: !('process' in globalThis) });
