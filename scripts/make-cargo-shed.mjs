// Writes the cargo shed, a large example, as a project file: node scripts/make-cargo-shed.mjs [crates] [file]
import { writeFile } from 'node:fs/promises';
import { register } from 'tsx/esm/api';

register();
const { cargoShed } = await import('../app/src/data/cargo-shed.ts');
const { writeProject } = await import('../core/src/index.ts');

const [crates = '1200', file = 'cargo-shed.frelk.json'] = process.argv.slice(2);
const count = Number(crates);
if (!Number.isInteger(count) || count < 1 || count > 100_000) {
	console.error(`"${crates}" crates: a whole number from 1 to 100000 is needed`);
	process.exit(2);
}
await writeFile(file, writeProject(cargoShed(count)));
console.log(`${file}: ${count} crates`);
