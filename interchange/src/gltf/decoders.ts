/** Reading what meshes are packed by: kept decoders, fetched when a file needs one. */
/** A decoder of Draco as its package makes it; where the page has its code elsewhere, it says so. */
export type DracoMaker = () => Promise<unknown>;

/** The decoder's own start, as Node loads it. A page gives one that fetches its code (`readGltf`). */
const nodeDraco: DracoMaker = async () => {
	const { default: start } = (await import('draco3d/draco_decoder_nodejs.js')) as {
		default: (options?: object) => Promise<unknown>;
	};
	return start();
};

/** @param used extensions that a file uses. @returns the decoders these ask for, by the names under which the library looks for them */
export async function decodersFor(
	used: ReadonlySet<string>,
	draco: DracoMaker = nodeDraco,
): Promise<Record<string, unknown>> {
	const out: Record<string, unknown> = {};
	if (used.has('KHR_draco_mesh_compression')) out['draco3d.decoder'] = await draco();
	if (used.has('EXT_meshopt_compression')) {
		const { MeshoptDecoder } = await import('meshoptimizer');
		await MeshoptDecoder.ready;
		out['meshopt.decoder'] = MeshoptDecoder;
	}
	return out;
}
