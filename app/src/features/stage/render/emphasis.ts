/** How strongly each object is drawn on the stage, by what the query in hand says of it. */
import type { Answer, Stage, Verdict, World } from '@frelk/core';
import type { Tint } from '../../../model/bench-state';
import { type Tone, toneOf } from '../../../ui/marks';

export type Emphasis = Exclude<Tone, 'quiet'> | 'plain' | 'faint';

export interface Seen {
	/** What cuts the query off. */
	cutBy: string | null;
	/** The object pointed at. */
	pointed: string | null;
	/** Whether an object stops the query, by its place. */
	blocking: readonly boolean[];
	tint: Tint;
}

/** @returns by the places of the objects */
export function emphasesOf(world: World, answer: Answer | null, { cutBy, pointed, blocking, tint }: Seen): Emphasis[] {
	const list = new Array<Emphasis>(world.objects.length).fill('plain');
	const verdicts = answer?.verdicts ?? [];
	for (let i = 0; i < verdicts.length; i++)
		list[i] = byStage((verdicts[i] as Verdict).stage, tint, blocking[i] === true);
	const set = (id: string | null | undefined, emphasis: Emphasis) => {
		const object = id == null ? undefined : world.objectById.get(id);
		if (object) list[object.index] = emphasis;
	};
	const verdict = pointed === null ? undefined : verdicts[world.objectById.get(pointed)?.index ?? -1];
	set(verdict?.by, 'cut');
	if (verdict?.stage === 'sight') set(pointed, 'outranked');
	set(cutBy, 'cut');
	return list;
}

function byStage(stage: Stage, tint: Tint, blocks: boolean): Emphasis {
	const tone = toneOf(stage);
	if (tone === 'chosen' || tone === 'tie') return tone;
	if (FILTERED.has(stage)) return tint === 'verdict' || (tint === 'layer' && !blocks) ? 'faint' : 'plain';
	// How the rest fared is shown where one asks for it.
	return tint === 'verdict' && tone !== 'quiet' ? tone : 'plain';
}

/** Stages before anything is touched. */
const FILTERED = new Set<Stage>(['inactive', 'layer', 'tags', 'state', 'side', 'role']);

/** Whether an object stops the query in hand, by its place. */
export function blockingIn(world: World, blockers: readonly string[] | 'all' | undefined): boolean[] {
	if (blockers === 'all') return world.objects.map(() => true);
	const mask = (blockers ?? []).reduce((bits, layer) => bits | (world.layerBit.get(layer) ?? 0), 0);
	return world.objects.map((o) => o.shapes.some((s) => (s.layer & mask) !== 0));
}
