/** A level whose one mesh is packed by Draco, as a program that packs writes it. */
import { Document, NodeIO } from '@gltf-transform/core';
import { KHRDracoMeshCompression } from '@gltf-transform/extensions';
import draco3d from 'draco3d';

/** @returns a .glb with one node: a floor of 8 × 8 m in 2 × 16 × 16 triangles, two metres under the origin */
export async function dracoFloor(name: string): Promise<Uint8Array> {
	const document = new Document();
	const buffer = document.createBuffer();
	const positions = Array.from({ length: 17 * 17 }, (_, i) => [(i % 17) / 2 - 4, 0, Math.floor(i / 17) / 2 - 4]).flat();
	const triangles = Array.from({ length: 16 * 16 }, (_, i) => 17 * Math.floor(i / 16) + (i % 16)).flatMap((a) => [
		...[a, a + 17, a + 1],
		...[a + 1, a + 17, a + 18],
	]);
	const accessor = document.createAccessor().setBuffer(buffer);
	const primitive = document
		.createPrimitive()
		.setAttribute('POSITION', accessor.setType('VEC3').setArray(new Float32Array(positions)))
		.setIndices(document.createAccessor().setBuffer(buffer).setType('SCALAR').setArray(new Uint16Array(triangles)));
	const node = document.createNode(name).setTranslation([0, -2, 0]);
	document.createScene().addChild(node.setMesh(document.createMesh().addPrimitive(primitive)));
	document.createExtension(KHRDracoMeshCompression).setRequired(true);
	return new NodeIO()
		.registerExtensions([KHRDracoMeshCompression])
		.registerDependencies({ 'draco3d.encoder': await draco3d.createEncoderModule() })
		.writeBinary(document);
}
