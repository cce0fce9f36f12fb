/** Muted hues, far enough apart to tell neighbours; none of the browns and reds that say what is chosen and what cuts. */
import type { World, WorldObject } from '@frelk/core';

const HUES = [205, 248, 168, 285, 96, 190, 66, 226, 128, 264];

const hue = (place: number): number => HUES[place % HUES.length];

/** @param bit a layer's bit; its place in the list picks the hue */
export const layerHue = (bit: number): number => hue(31 - Math.clz32(bit));

const tinted = (place: number, dark: boolean): string =>
	dark ? `hsl(${hue(place)}, 24%, 38%)` : `hsl(${hue(place)}, 34%, 70%)`;
const untinted = (dark: boolean): string => (dark ? 'hsl(200, 8%, 34%)' : 'hsl(200, 10%, 78%)');

/** What an object is tinted by, and in what order the tints are handed out. */
export function tintOf(
	world: World,
	object: WorldObject,
	by: 'layer' | 'tag' | 'side' | 'verdict',
	dark: boolean,
): string {
	if (by === 'verdict') return untinted(dark);
	if (by === 'tag') {
		// By the family: tags under one another share the tint of the uppermost.
		const tag = object.def.tags?.[0];
		const top = tag === undefined ? undefined : world.family.get(tag)?.at(-1);
		return top === undefined ? untinted(dark) : tinted(world.tagPlace.get(top) ?? 0, dark);
	}
	if (by === 'side') {
		const place = (world.project.scene.sides ?? []).findIndex((s) => s.id === object.def.side);
		return place < 0 ? untinted(dark) : tinted(place, dark);
	}
	return tinted(31 - Math.clz32(object.layer), dark);
}

/** What each tint stands for, for the key on the stage. */
export function tintKey(
	world: World,
	by: 'layer' | 'tag' | 'side' | 'verdict',
	dark: boolean,
): { name: string; colour: string }[] {
	const { scene } = world.project;
	const used = new Set<string>();
	for (const o of world.objects) used.add(tintOf(world, o, by, dark));
	const named = (
		list: readonly { id: string; name?: string | undefined }[],
		place: (id: string, i: number) => number,
	) =>
		list
			.map((entry, i) => ({ name: entry.name ?? entry.id, colour: tinted(place(entry.id, i), dark) }))
			.filter((e) => used.has(e.colour));
	if (by === 'layer') return named(scene.layers, (_id, i) => i);
	if (by === 'side') return named(scene.sides ?? [], (_id, i) => i);
	if (by === 'tag')
		return named(
			scene.tags.filter((t) => t.under === undefined),
			(id) => world.tagPlace.get(id) ?? 0,
		);
	return [];
}
