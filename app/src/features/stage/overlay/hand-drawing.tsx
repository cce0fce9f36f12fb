/** What is in hand, marked on the stage. */
import type { View, World, WorldObject } from '@frelk/core';
import { turned } from '@frelk/core/geometry';
import { type P3, pathOf, toPixels } from '../../../drawing/view';

/** The side from which an object lets itself be approached, and whom it answers for. */
function Approach({ object, view, flat }: { object: WorldObject; view: View; flat: boolean }) {
	const { approach } = object.def;
	const target = object.answersFor === object ? null : object.answersFor;
	const [a, b] = target ? [toPixels(view, object.focus), toPixels(view, target.focus)] : [null, null];
	let wedge: P3[] | null = null;
	if (approach) {
		const [x, y, z] = turned(object.rotation, ...approach.from);
		const heading = flat ? Math.atan2(y, x) : Math.atan2(z, x);
		const half = (Math.min(approach.within, 180) * Math.PI) / 180;
		const reach = flat ? 0.4 : 1.2;
		const base: P3 = flat ? object.focus : [object.focus[0], object.position[1] + 0.02, object.focus[2]];
		const arc = Array.from({ length: 25 }, (_, i): P3 => {
			const t = heading - half + (2 * half * i) / 24;
			return flat
				? [base[0] + reach * Math.cos(t), base[1] + reach * Math.sin(t), base[2]]
				: [base[0] + reach * Math.cos(t), base[1], base[2] + reach * Math.sin(t)];
		});
		wedge = approach.within >= 180 ? arc : [base, ...arc, base];
	}
	return (
		<g fill="none">
			{wedge && (
				<path
					d={pathOf(view, wedge)}
					fill="var(--short)"
					fillOpacity="0.12"
					stroke="var(--short)"
					strokeWidth="1.4"
					strokeDasharray="4 3"
				/>
			)}
			{a && b && (
				<path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2 4" />
			)}
		</g>
	);
}

/** A ring about all that is in hand; of the last one taken also how it is approached and whom it answers for. */
export function HandDrawing({
	world,
	view,
	selection,
	picked,
}: {
	world: World;
	view: View;
	selection: readonly string[];
	picked: string | null;
}) {
	const object = picked === null ? undefined : world.objectById.get(picked);
	return (
		<>
			{object && <Approach object={object} view={view} flat={world.flat} />}
			{selection.map((id) => {
				const held = world.objectById.get(id);
				const p = held ? toPixels(view, held.focus) : null;
				if (!p) return null;
				return (
					<circle
						key={id}
						cx={p[0]}
						cy={p[1]}
						r="11"
						fill="none"
						stroke="var(--ink)"
						strokeWidth="1.5"
						strokeDasharray={id === picked ? '3 3' : '1 3'}
					/>
				);
			})}
		</>
	);
}
