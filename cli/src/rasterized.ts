/** SVG as PNG, with letters of its own: the machine it runs on need have no fonts. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { initWasm, Resvg } from '@resvg/resvg-wasm';

const fileOf = (name: string) => readFile(createRequire(import.meta.url).resolve(name));

let begun: Promise<Uint8Array> | undefined;

/** Starts the renderer, once. @returns the letters: Latin, Greek, Cyrillic, and more */
async function letters(): Promise<Uint8Array> {
	begun ??= initWasm(fileOf('@resvg/resvg-wasm/index_bg.wasm')).then(() =>
		fileOf('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'),
	);
	return begun;
}

/**
 * @param zoom pixels a unit of the picture
 * @returns the bytes of a PNG on white
 */
export async function rasterized(svg: string, zoom: number): Promise<Buffer> {
	const fontBuffers = [await letters()];
	const drawing = new Resvg(svg, {
		background: '#fff',
		fitTo: { mode: 'zoom', value: zoom },
		font: { fontBuffers, defaultFontFamily: 'DejaVu Sans', sansSerifFamily: 'DejaVu Sans' },
	});
	try {
		return Buffer.from(drawing.render().asPng());
	} finally {
		drawing.free();
	}
}
