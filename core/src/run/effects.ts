/** What an action does to the scene: the lines of its effect, one after the other (contract §12.6). */
import { joinedOverlays } from '../project/overlay';
import type { Effect, Overlay, StateValue } from '../project/schema';
import type { InForce, RunScene } from './scene';

/** A line that did nothing: who was to carry is not there, or would hang on itself. */
interface RefusedLine {
	action: string;
	line: number;
	why: 'no-asker' | 'cycle';
}

const numberOf = (value: StateValue | undefined): number =>
	value === undefined ? 0 : value === true ? 1 : value === false ? 0 : value;

/**
 * Runs an effect on what earlier ones left.
 * @param scene as it stands at this step
 * @param pending what is to be in force from the next step on; added to
 * @param target, asker object ids; the asker null where the query has none
 */
export function runEffect(
	effect: Effect,
	scene: RunScene,
	pending: InForce,
	target: string,
	asker: string | null,
): RefusedLine[] {
	const refused: RefusedLine[] = [];
	for (const [index, line] of effect.do.entries()) {
		const refuse = (why: RefusedLine['why']) => void refused.push({ action: effect.action, line: index, why });
		const named = (who: 'target' | 'asker' | { object: string }): string | null =>
			typeof who === 'object' ? who.object : who === 'target' ? target : asker;
		if (line.of === 'scene') {
			const now = { ...scene.sceneStates(), ...pending.states };
			if (line.set?.states) Object.assign(pending.states, line.set.states);
			for (const [state, by] of Object.entries(line.add ?? {})) pending.states[state] = numberOf(now[state]) + by;
			continue;
		}
		const of = named(line.of);
		if (of === null) {
			refuse('no-asker');
			continue;
		}
		const put = (overlay: Overlay) => void pending.objects.set(of, joinedOverlays(pending.objects.get(of), overlay));
		if (line.set) {
			const { parent } = line.set;
			if (typeof parent === 'string' && scene.hangsOn(parent, of, pending.objects)) refuse('cycle');
			else put(line.set);
		} else if (line.add) {
			const now = scene.defOf(of, pending.objects.get(of))?.states ?? {};
			const states: Record<string, StateValue> = {};
			for (const [state, by] of Object.entries(line.add)) states[state] = numberOf(now[state]) + by;
			put({ states });
		} else if (line.carriedBy) {
			const by = named(line.carriedBy);
			if (by === null) refuse('no-asker');
			else if (scene.hangsOn(by, of, pending.objects)) refuse('cycle');
			else put({ parent: by, position: line.at ?? [0, 0, 0], rotation: [0, 0, 0] });
		} else put({ parent: null, ...scene.poseOf(of, pending.objects) });
	}
	return refused;
}
