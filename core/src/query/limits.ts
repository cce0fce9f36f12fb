/** The stages that limit where a contact may be: range, view, approach; and the measures the choice rules share with them. */
import { angleBetween, turned } from '../geometry/matrix';
import { NO_LENGTH } from '../geometry/tolerances';
import type { WorldObject } from '../world/world';
import type { Filters } from './filters';
import type { Placement, Point } from './placement';
import { type Contender, focusOf } from './touch';
import type { Verdict } from './types';

/** Distance from the place `range` measures from; `flat` leaves Y out, in flat picks only the picture's plane counts. */
function straight(f: Filters, placement: Placement, to: readonly number[]): number {
	const from = placement.rangeFrom ?? placement.measuring;
	const x = to[0] - from[0];
	const y = to[1] - from[1];
	const z = to[2] - from[2];
	if (placement.flatPick) return Math.hypot(x, y);
	return f.query.range?.flat ? Math.hypot(x, z) : Math.hypot(x, y, z);
}

/** What `range` compares with its limits, metres. */
function rangeDistance(f: Filters, placement: Placement, c: Contender): number {
	const { range } = f.query;
	if (range?.to === 'focus') return straight(f, placement, focusOf(placement, f.world.flat, c.object));
	return placement.rangeFrom || range?.flat ? straight(f, placement, c.point) : c.distance;
}

/** What the rule `distance` compares, metres. */
export function choiceDistance(f: Filters, placement: Placement, c: Contender, to: 'contact' | 'focus'): number {
	if (to === 'focus') return straight(f, placement, focusOf(placement, f.world.flat, c.object));
	if (placement.flatPick) return c.distance;
	return placement.rangeFrom || f.query.range?.flat ? straight(f, placement, c.point) : c.distance;
}

/** Angle in degrees between the view's middle and the line to the object's focus. */
export function viewAngle(f: Filters, placement: Placement, object: WorldObject): number {
	const about = placement.viewAxis as Point;
	const focus = focusOf(placement, f.world.flat, object);
	const x = focus[0] - placement.apex[0];
	const y = f.query.view?.flat ? 0 : focus[1] - placement.apex[1];
	const z = focus[2] - placement.apex[2];
	return Math.hypot(x, y, z) <= NO_LENGTH ? 0 : angleBetween(x, y, z, ...about);
}

/** Angle in degrees between the side an object lets itself be approached from and where the asker stands; null where it does not mind. */
function approachAngle(f: Filters, placement: Placement, object: WorldObject): number | null {
	const { approach } = object.answersFor.def;
	if (!approach) return null;
	const target = object.answersFor;
	const from = turned(target.rotation, ...approach.from);
	const line: Point = [
		placement.approachFrom[0] - target.focus[0],
		placement.approachFrom[1] - target.focus[1],
		placement.approachFrom[2] - target.focus[2],
	];
	const left = f.world.flat ? 2 : 1;
	from[left] = 0;
	line[left] = 0;
	if (Math.hypot(...from) <= NO_LENGTH || Math.hypot(...line) <= NO_LENGTH) return 0;
	return angleBetween(...from, ...line);
}

/** @returns the verdict of the first limit a contender breaks, or null when it keeps all of them */
export function limitVerdict(f: Filters, placement: Placement, c: Contender): Verdict | null {
	const { range, view, approach } = f.query;
	const object = c.object.id;
	if (range) {
		const d = rangeDistance(f, placement, c);
		if (range.min !== undefined && d < range.min) return { object, stage: 'range', margin: range.min - d };
		if (range.max !== undefined && d > range.max) return { object, stage: 'range', margin: d - range.max };
	}
	if (view) {
		const angle = viewAngle(f, placement, c.object);
		if (angle > view.within) return { object, stage: 'view', margin: angle - view.within };
	}
	if (approach !== 'ignore') {
		const within = c.object.answersFor.def.approach?.within ?? 0;
		const angle = approachAngle(f, placement, c.object);
		if (angle !== null && angle > within) return { object, stage: 'approach', margin: angle - within };
	}
	return null;
}
