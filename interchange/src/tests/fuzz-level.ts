/** Levels, rules and traces nobody meant, by their seed: each is refused in words of our own, or makes a project that is whole. */
import { checkProject, formatProblem, type Project } from '@frelk/core';
import { type Json, mutatedText, mutatedTree } from '@frelk/core/tests/mutate';
import { dice } from '@frelk/core/tests/random';
import { ahead, box, object, project } from '@frelk/core/tests/scene';
import { LineCutter, Replay, readTraceHead, TraceError, TraceReader } from '@frelk/core/traces';
import { readGltf } from '../gltf/read';
import { levelInto } from '../into';
import { type Level, LevelError } from '../level';
import { checkRules, type NamingRules } from '../rules';
import { readSvg } from '../svg/read';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const base64 = (numbers: Uint8Array) => btoa(String.fromCharCode(...numbers));

const CORNERS = new Uint8Array(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]).buffer);
const FACES = new Uint8Array(new Uint16Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]).buffer);

/** A small level with something of everything that is read. */
const GLTF: Json = {
	asset: { version: '2.0' },
	scene: 0,
	scenes: [{ nodes: [0, 2, 4] }],
	nodes: [
		{ name: 'yard', children: [1], translation: [1, 2, 3], rotation: [0, 0.6, 0, 0.8], scale: [1, 2, 1] },
		{ name: 'crate', mesh: 0, weights: [0.5], extras: { kind: 'crate', deep: { er: [1] } } },
		{ name: 'eye', camera: 0, children: [3], extensions: { KHR_node_visibility: { visible: false } } },
		{
			name: 'grove',
			mesh: 0,
			extensions: { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: 0, SCALE: 0 } } },
		},
		{
			name: 'body',
			mesh: 0,
			skin: 0,
			extensions: {
				KHR_physics_rigid_bodies: {
					collider: { geometry: { shape: 0 } },
					trigger: { geometry: { mesh: 0, convexHull: true } },
				},
			},
		},
	],
	cameras: [{ type: 'perspective', perspective: { yfov: 1, zfar: 50 } }],
	skins: [{ joints: [0, 1] }],
	meshes: [
		{
			name: 'tetra',
			primitives: [{ attributes: { POSITION: 0 }, indices: 1, targets: [{ POSITION: 0 }] }],
			weights: [0.1],
		},
	],
	accessors: [
		{
			bufferView: 0,
			componentType: 5126,
			count: 4,
			type: 'VEC3',
			sparse: { count: 1, indices: { bufferView: 1, componentType: 5123 }, values: { bufferView: 0 } },
		},
		{ bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
	],
	bufferViews: [
		{ buffer: 0, byteLength: 48 },
		{ buffer: 0, byteOffset: 48, byteLength: 24 },
	],
	buffers: [
		{ byteLength: 72, uri: `data:application/octet-stream;base64,${base64(new Uint8Array([...CORNERS, ...FACES]))}` },
	],
	extensionsUsed: ['EXT_mesh_gpu_instancing', 'KHR_implicit_shapes', 'KHR_physics_rigid_bodies', 'KHR_node_visibility'],
	extensions: { KHR_implicit_shapes: { shapes: [{ type: 'capsule', capsule: { height: 1 } }] } },
	animations: [{}],
};

const SVG = `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 100 50">
<style>.a { fill: none; stroke: red } #b > rect, g circle.a { stroke-width: 3px; stroke-linecap: round }</style>
<defs><clipPath id="c"><rect width="50" height="20"/></clipPath><symbol id="s" viewBox="0 0 4 4"><circle class="a" r="2"/></symbol></defs>
<g id="b" transform="translate(3 4) rotate(20) scale(2)" data-layer="papers"><rect class="a" width="4" height="2" rx="1"/></g>
<path id="p" d="M0 0h9v9h-9zM2 2v5h5v-5zC1 2 3 4 5 6Q1 2 3 4A2 3 0 0 1 5 5z" fill-rule="evenodd" clip-path="url(#c)"/>
<use href="#s" x="5" width="8" height="8"/><use xlink:href="#p"/><polyline points="0,0 4,4 8,0" stroke="#000"/>
<g data-object="yes" id="two"><circle r="3"/><ellipse rx="4" ry="2"/><line x2="5" stroke="red"/></g>
<svg x="1" width="5" height="5" viewBox="0 0 1 1"><polygon points="0,0 1,0 1,1"/></svg></svg>`;

const RULES: Json = {
	layer: 'level',
	shape: 'box',
	rules: [
		{ when: { name: '*a*' }, layer: 'things', tags: ['x'], role: 'sensor', prompt: 'Take', action: 'take' },
		{ when: { path: '**/{crate,b*}[0-9]?' }, shape: 'hull', leave: false },
		{ when: { extra: 'kind', is: 'cr*' }, leave: true },
	],
};

const asked: Project = project([object('near', [0, 0, -2], [box([1, 1, 1])])], [ahead()]);
const TRACE = [
	'{"format":"frelk-trace/1","project":"test","clock":"s"}',
	'{"t":0,"objects":{"near":{"position":[0,0,-3],"world":true}},"asked":[{"query":"q","got":["near"],"note":"n"}]}',
	'{"t":0.1,"cameras":{"eye":{"rotation":[1,2,3]}},"states":{"s":true},"queries":{"q":{"enabled":false}},"asked":[{"query":"q","got":null}]}',
].join('\n');

/** What is wrong with what came of a level; null where nothing is. */
function wrongWith(level: Level, rules: NamingRules): string | null {
	const made = levelInto(level, rules, null, level.name).project;
	const reading = checkProject(JSON.parse(JSON.stringify(made)));
	if (!reading.ok) return `makes no project: ${reading.problems.slice(0, 2).map(formatProblem).join('; ')}`;
	// Read again it is the same.
	const again = levelInto(level, rules, made, level.name).report;
	const { came, went, moved, changed } = again;
	return came.length + went.length + moved.length + changed.length > 0 ? 'read again it is another' : null;
}

/** A .glb of a JSON and its bytes. */
function glbOf(json: string): Uint8Array<ArrayBuffer> {
	const text = bytesOf(json.padEnd(Math.ceil(json.length / 4) * 4));
	const out = new Uint8Array(28 + text.length + 72);
	const view = new DataView(out.buffer);
	[0x46546c67, 2, out.length, text.length, 0x4e4f534a].forEach((v, i) => {
		view.setUint32(4 * i, v, true);
	});
	out.set(text, 20);
	view.setUint32(20 + text.length, 72, true);
	view.setUint32(24 + text.length, 0x004e4942, true);
	out.set([...CORNERS, ...FACES], 28 + text.length);
	return out;
}

/** @returns what is wrong with how the case of a seed ends; null where all is well */
export async function judgeLevel(seed: number): Promise<string | null> {
	const d = dice(2 * seed + 1);
	try {
		switch (seed % 6) {
			case 0:
			case 1: {
				const text = d.chance(0.8) ? mutatedTree(d, GLTF) : mutatedText(d, JSON.stringify(GLTF));
				const partial = d.chance(0.5);
				return wrongWith(await readGltf([{ name: 'l.gltf', bytes: bytesOf(text) }], () => {}, { partial }), {});
			}
			case 2: {
				const tree = JSON.parse(JSON.stringify(GLTF)) as { buffers: Json };
				tree.buffers = [{ byteLength: 72 }];
				const bytes = glbOf(JSON.stringify(tree));
				for (let i = d.whole(1, 6); i > 0; i--) bytes[d.whole(0, bytes.length - 1)] = d.whole(0, 255);
				return wrongWith(
					await readGltf([
						{ name: 'l.glb', bytes: bytes.slice(0, d.chance(0.3) ? d.whole(0, bytes.length) : undefined) },
					]),
					{},
				);
			}
			case 3:
				return wrongWith(readSvg(mutatedText(d, mutatedText(d, SVG)), 'l.svg'), {});
			case 4: {
				const rules = checkRules(JSON.parse(mutatedTree(d, RULES)), 'rules');
				const level = d.chance(0.5)
					? readSvg(SVG, 'l.svg')
					: await readGltf([{ name: 'l.gltf', bytes: bytesOf(JSON.stringify(GLTF)) }]);
				return wrongWith(level, rules);
			}
			default: {
				const cutter = new LineCutter();
				const bytes = bytesOf(mutatedText(d, TRACE));
				if (d.chance(0.3)) bytes[d.whole(0, bytes.length - 1)] = d.whole(128, 255);
				const reader = new TraceReader(asked);
				const replay = new Replay(asked);
				for (const line of [...cutter.push(bytes), ...cutter.end()]) {
					if (!('text' in line)) throw new TraceError(line.number, line.message);
					if (line.number === 1) readTraceHead(line.text, asked);
					else if (line.text.trim() !== '') replay.line(reader.line(line.text, line.number), line.number);
				}
				return null;
			}
		}
	} catch (error) {
		if (error instanceof LevelError || error instanceof TraceError) {
			// biome-ignore lint/suspicious/noControlCharactersInRegex: these must not be there
			return /[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/.test(error.message) ? `unclean: ${error.message}` : null;
		}
		return `fell over: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`.slice(0, 800);
	}
}
