/** `frelk export` and `frelk constants`: a project for other programs. */

import { constantsIn, constantsOf, csvTable, jsonTable, LANGUAGES, type Language } from '@frelk/interchange';
import { writeGlb, writeGltf } from '@frelk/interchange/gltf';
import { writeSvg } from '@frelk/interchange/svg';
import { type Io, load, UsageError, write } from './files';

interface ExportOptions {
	gltf?: string;
	svg?: string;
	csv?: string;
	table?: string;
}

/** @returns the exit code */
export async function exportProject(io: Io, file: string, options: ExportOptions): Promise<number> {
	const { gltf, svg, csv, table } = options;
	const wanted = [gltf, svg, csv, table].filter((out) => out !== undefined);
	if (wanted.length === 0) throw new UsageError('say what to write: --gltf, --svg, --csv or --table, each with a file');
	const { project } = await load(io, file);
	if (svg !== undefined && project.scene.kind !== 'flat')
		throw new UsageError(`${file}: is a scene in space; --svg draws flat ones`);
	if (gltf !== undefined) {
		if (!/\.(glb|gltf)$/i.test(gltf)) throw new UsageError(`${gltf}: --gltf writes a .glb or a .gltf`);
		await write(gltf, /\.glb$/i.test(gltf) ? await writeGlb(project) : await writeGltf(project));
	}
	if (svg !== undefined) await write(svg, writeSvg(project));
	if (csv !== undefined) await write(csv, csvTable(project));
	if (table !== undefined) await write(table, jsonTable(project));
	return 0;
}

/** @returns the exit code */
export async function constants(io: Io, file: string, { lang }: { lang: string }): Promise<number> {
	if (!(LANGUAGES as readonly string[]).includes(lang))
		throw new UsageError(`--lang is one of ${LANGUAGES.join(', ')}; got ${lang}`);
	const { project } = await load(io, file);
	io.out(constantsIn(lang as Language, constantsOf(project)));
	return 0;
}
