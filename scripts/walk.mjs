// Compiles the walk of the core: core/src/space/simd/walk.wat to code.ts beside it.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import wabt from 'wabt';
import { root } from './lib.mjs';

const folder = join(root, 'core', 'src', 'space', 'simd');

/** @returns the text of `code.ts` for the walk as it is written now */
export async function walkCode() {
	const parsed = (await wabt()).parseWat('walk.wat', readFileSync(join(folder, 'walk.wat')), { simd: true });
	parsed.validate();
	const hex = Buffer.from(parsed.toBinary({}).buffer).toString('hex');
	parsed.destroy();
	const lines = hex.match(/.{1,112}/g) ?? [];
	return `/** \`walk.wat\`, compiled, two hexadecimal digits a byte: made by \`npm run walk\`. */
export const CODE = [
${lines.map((line) => `\t'${line}',`).join('\n')}
].join('');
`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(join(folder, 'code.ts'), await walkCode());
