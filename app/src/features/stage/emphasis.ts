/** How strongly each object is drawn on the stage, by what the query in hand says of it. */
import type { Answer, Stage, World } from '@frelk/core';
import type { Tint } from '../bench/store';

export type Emphasis = 'chosen' | 'tie' | 'cut' | 'outranked' | 'short' | 'plain' | 'faint';

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
	for (let i = 0; i < verdicts.length; i++) list[i] = byStage(verdicts[i]?.stage, tint, blocking[i] === true);
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

function byStage(stage: Stage | undefined, tint: Tint, blocks: boolean): Emphasis {
	switch (stage) {
		case 'selected':
			return 'chosen';
		case 'tied':
			return 'tie';
		case 'choice':
			return tint === 'verdict' ? 'outranked' : 'plain';
		case 'sight':
			return tint === 'verdict' ? 'cut' : 'plain';
		case 'range':
		case 'view':
		case 'approach':
			return tint === 'verdict' ? 'short' : 'plain';
		case 'inactive':
		case 'layer':
		case 'tags':
		case 'state':
		case 'side':
		case 'role':
			return tint === 'verdict' || (tint === 'layer' && !blocks) ? 'faint' : 'plain';
		default:
			return 'plain';
	}
}
