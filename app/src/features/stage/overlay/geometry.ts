/** Where a query stands in the scene: its path and volumes, and where it stops. Stage, distance axis and eye draw the same one. */
import {
	type Answer,
	Answerer,
	type ChoiceFigures,
	type Contender,
	type Crossing,
	choiceFigures,
	crossingsOf,
	filtersOf,
	isNote,
	type Placement,
	placementOf,
	type Query,
	type Spot,
	spotOf,
	type World,
} from '@frelk/core';
import { useMemo } from 'react';

export interface QueryGeometry {
	query: Query;
	placement: Placement;
	/** Metres along the path at which the query stops, and the blocker that stops it, if any. */
	stop: number | null;
	cutBy: string | null;
	/** All that lies on its path, in the order of entry; empty without a path. */
	crossings: readonly Crossing[];
	/** Of a question of room: where it stands, what bears it, and the way out. */
	spot: Spot | null;
}

/** Stage and distance axis ask for the same one. */
const known = new WeakMap<Answer, QueryGeometry | null>();

/** Where a query stands, or null while it waits. An answer is made anew whenever anything of it has changed. */
export function geometryOf(world: World, query: Query, answer: Answer | null): QueryGeometry | null {
	let geometry = answer ? known.get(answer) : undefined;
	if (geometry === undefined) {
		geometry = workedOut(world, query, answer);
		if (answer) known.set(answer, geometry);
	}
	return geometry;
}

function workedOut(world: World, query: Query, answer: Answer | null): QueryGeometry | null {
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const placement = placementOf({ world, query, asker, hitOf: new Answerer(world).hitOf });
	if (isNote(placement)) return null;
	let stop: number | null = null;
	let cutBy: string | null = null;
	let crossings: readonly Crossing[] = [];
	if (placement.path) {
		const taken = answer?.selected[0];
		crossings = crossingsOf(filtersOf(world, query), placement);
		const standing = new Set([...(answer?.selected ?? []).map((s) => s.object), ...(answer?.tied ?? [])]);
		const block = crossings.find((c) => c.blocker && !c.startsInside && !standing.has(c.shape.object.answersFor.id));
		if (taken && !taken.assisted) stop = taken.distance;
		if (block && (stop === null || block.enter < stop)) {
			stop = block.enter;
			cutBy = block.shape.object.id;
		}
	}
	const spot = query.kind === 'overlap' && query.room && answer?.room ? spotOf(world, query, placement, answer) : null;
	return { query, placement, stop, cutBy, crossings, spot };
}

export function useQueryGeometry(world: World, query: Query | null, answer: Answer | null): QueryGeometry | null {
	return useMemo(
		() => (query ? geometryOf(world, world.queryById.get(query.id) ?? query, answer) : null),
		[world, query, answer],
	);
}

const figures = new WeakMap<Answer, ChoiceFigures | null>();

/** The rule that decided an answer, with every contender's figure by it; null where nothing came to the choice. */
export function figuresOf(
	world: World,
	geometry: QueryGeometry | null,
	answer: Answer | null,
	touched: readonly Contender[],
): ChoiceFigures | null {
	if (!geometry || !answer) return null;
	let known = figures.get(answer);
	if (known === undefined) {
		known = choiceFigures(world, geometry.query, geometry.placement, answer, touched);
		figures.set(answer, known);
	}
	return known;
}
