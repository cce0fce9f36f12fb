/** Depths of flat scenes: what lies over what by enough that the two never tie. */
import { type Project, rounded, rulesOf, slackOf, type World } from '@frelk/core';

/** What two depths differ by where the slack of the scene is nothing, metres. */
const LEAST = 0.001;

/** @returns a step of depth that no query of the project takes for equal: twice the widest slack, metres */
export function depthStep({ scene, queries }: Project): number {
	const tieSlack = scene.tieSlack ?? 0.001;
	const slacks = queries.flatMap((query) =>
		query.kind === 'pick'
			? rulesOf(query).flatMap((rule) => (rule.rule === 'distance' ? [slackOf(rule, tieSlack)] : []))
			: [],
	);
	return rounded(2 * Math.max(tieSlack, ...slacks)) || LEAST;
}

/** A depth above all there is, so that something new lies on top. @param world the scene as it stands */
export function topDepth(project: Project, { objects }: Pick<World, 'objects'>): number {
	const highest = objects.reduce((most, o) => Math.max(most, o.position[2]), -Infinity);
	return highest === -Infinity ? 0 : rounded(highest + depthStep(project));
}

/** Where one of a pile goes, and who gives way to it. */
export interface PileMove {
	depth: number;
	/** Those above it that are lifted so that it has room, all by as much. */
	lift: { ids: string[]; by: number } | null;
}

/**
 * Puts an object into a pile.
 * @param rest the others of the pile, the uppermost first
 * @param at how many of them are to lie above it
 * @param usual the step beyond the outermost, metres
 * @param step what two depths have to differ by, metres
 */
export function placeInPile(
	rest: readonly { id: string; depth: number }[],
	at: number,
	usual: number,
	step: number,
): PileMove {
	const [above, below] = [rest[at - 1]?.depth, rest[at]?.depth];
	const beyond = Math.max(usual, step);
	if (above === undefined) return { depth: below === undefined ? 0 : rounded(below + beyond), lift: null };
	if (below === undefined) return { depth: rounded(above - beyond), lift: null };
	if (above - below >= 2 * step) return { depth: rounded((above + below) / 2), lift: null };
	return {
		depth: rounded(below + step),
		lift: { ids: rest.slice(0, at).map((o) => o.id), by: rounded(below + 2 * step - above) },
	};
}
