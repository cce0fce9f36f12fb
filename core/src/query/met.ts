/** What lies where it is asked for, but for a filter (contract §22): *it is right there; it is only sealed*. */
import type { WorldObject } from '../world/world';
import { type Contender, type Touching, touch } from './touch';
import type { Stage, Verdict } from './types';

/** Stages at which an object falls for what it is, wherever it is. */
const BY_FILTER: ReadonlySet<Stage> = new Set<Stage>(['layer', 'tags', 'side', 'state', 'role']);

/** Whether a verdict of a stage may say that its object is met all the same. */
export const isByFilter = (stage: Stage): boolean => BY_FILTER.has(stage);

/** Every layer's bit. */
const ALL_LAYERS = -1;

/** Asks for objects with all their enabled shapes, whatever the layer and role; aim assist aside. */
export class Met {
	/** As the query but for its filters; made when it is first wanted. */
	private open: Touching | null = null;

	constructor(private readonly of: Touching) {}

	/** @returns the contact of an object that a filter left out; null where it is not touched either */
	contact(object: WorldObject): Contender | null {
		if (object.shapes.length === 0) return null;
		this.open ??= {
			...this.of,
			filters: { ...this.of.filters, layers: ALL_LAYERS, solid: true, sensor: true },
			startsInside: new Set(),
			skipped: new Set(),
		};
		return touch(this.open, object, true, false);
	}

	/** @returns the verdict of a filter, with the distance of the contact where the object is met all the same */
	told(object: WorldObject, failed: Verdict): Verdict {
		const contact = isByFilter(failed.stage) ? this.contact(object) : null;
		return contact ? { ...failed, met: contact.distance } : failed;
	}
}
