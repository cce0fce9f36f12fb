/** What a watch entry holds at a step: the answer's own, one remembered object, or one it sticks to (contract §12.3). */
import type { WatchEntry } from '../project/schema';
import type { Probed } from '../query/answer';
import type { World } from '../world/world';
import { type Chosen, NOTHING_CHOSEN } from './chosen';
import { Lock } from './lock';

const ownChoice = ({ answer }: Probed): Chosen => ({
	selected: answer.selected.map((s) => s.object),
	tied: [...answer.tied],
	through: answer.selected.map((s) => s.through),
});

/** The memory of one entry, taken from step to step. */
export class Memory {
	/** Of `keeps: "lock"`. */
	readonly lock: Lock | null;
	/** The remembered object of `keeps: "one"`, by its own id. */
	private slot: string | null = null;
	chosen: Chosen = NOTHING_CHOSEN;

	constructor(private readonly entry: WatchEntry) {
		this.lock = entry.keeps === 'lock' ? new Lock(entry.patience ?? 0) : null;
	}

	/**
	 * @param t seconds
	 * @param lost, gained contenders against the step before, in file order
	 * @returns what is chosen at this step
	 */
	step(world: World, probed: Probed, t: number, lost: readonly string[], gained: readonly string[]): Chosen {
		if (this.lock) this.chosen = this.lock.step(world, probed, t);
		else if (this.entry.keeps === 'one') this.chosen = this.remember(world, lost, gained);
		else this.chosen = this.stickTo(probed) ?? ownChoice(probed);
		return this.chosen;
	}

	private remember(world: World, lost: readonly string[], gained: readonly string[]): Chosen {
		const any = this.entry.forgets === 'any';
		for (const id of lost) if (any || this.slot === id) this.slot = null;
		for (const id of gained) this.slot = id;
		const held = this.slot === null ? undefined : world.objectById.get(this.slot);
		if (!held) return NOTHING_CHOSEN;
		const target = held.answersFor;
		return { selected: [target.id], tied: [], through: [target === held ? null : held.id] };
	}

	/** The one held before, where it may be held on to; null where the answer's own counts. */
	private stickTo({ answer, verdicts, touched }: Probed): Chosen | null {
		const { stick } = this.entry;
		const held = this.chosen.selected.length === 1 ? this.chosen.selected[0] : undefined;
		if (!stick || held === undefined || answer.selected.some((s) => s.object === held)) return null;
		for (const object of touched) {
			if (object.answersFor.id !== held) continue;
			const verdict = verdicts[object.index];
			if (!verdict) continue;
			const limit =
				verdict.rule === undefined ? undefined : (stick as Record<string, number | undefined>)[verdict.rule];
			const within = limit !== undefined && verdict.margin !== undefined && verdict.margin <= limit;
			if (verdict.stage === 'tied' || (verdict.stage === 'choice' && within))
				return { selected: [held], tied: [], through: [object.id === held ? null : object.id] };
		}
		return null;
	}
}
