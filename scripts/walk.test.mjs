import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { root } from './lib.mjs';
import { walkCode } from './walk.mjs';

it('the compiled walk of the core is what its source compiles to', async () => {
	expect(readFileSync(join(root, 'core', 'src', 'space', 'simd', 'code.ts'), 'utf8')).toBe(await walkCode());
});
