/** While a change is looked at before it is taken: what it would change on the stage, as it is now. */
import { buildWorld, type Project, type View, type World, type WorldObject } from '@frelk/core';
import { useMemo } from 'react';
import { worldLines } from '../../../drawing/outline';
import { pathOf, toPixels } from '../../../drawing/view';
import type { Preview } from '../../../model/bench-state';

/** Objects that stand elsewhere, and those that are changed in some other way. */
function changedIn(before: World, after: World): { moved: [WorldObject, WorldObject][]; other: WorldObject[] } {
	const moved: [WorldObject, WorldObject][] = [];
	const other: WorldObject[] = [];
	for (const was of before.objects) {
		const is = after.objectById.get(was.id);
		if (!is) continue;
		const same = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(a).every((v, i) => v === b[i]);
		const there = same(was.position, is.position) && same(was.rotation, is.rotation);
		if (!there) moved.push([was, is]);
		else if (JSON.stringify({ ...was.def, tags: [] }) !== JSON.stringify({ ...is.def, tags: [] })) other.push(was);
	}
	return { moved, other };
}

export function AsItWas({
	project,
	moment,
	preview,
	world,
	view,
}: {
	project: Project;
	moment: string | null;
	preview: Preview;
	/** As it would be. */
	world: World;
	view: View;
}) {
	const before = useMemo(() => buildWorld(project, moment), [project, moment]);
	const { moved, other } = useMemo(() => changedIn(before, world), [before, world]);
	return (
		<>
			{moved.map(([was, is]) => {
				const [a, b] = [toPixels(view, was.focus), toPixels(view, is.focus)];
				return (
					<g key={was.id} fill="none" stroke="var(--ink)">
						{was.shapes.map((shape) => (
							<path
								key={shape.index}
								d={worldLines(shape.body, before.flat, before.flat ? was.position[2] : 0)
									.map((line) => pathOf(view, line))
									.join('')}
								strokeDasharray="3 3"
								strokeOpacity="0.8"
							/>
						))}
						{a && b && <path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} strokeWidth="1.6" />}
						{b && <circle cx={b[0]} cy={b[1]} r="4" fill="var(--ink)" stroke="none" />}
					</g>
				);
			})}
			{other.map((was) => {
				const p = toPixels(view, was.focus);
				return (
					p && (
						<g key={was.id}>
							{['var(--panel)', 'var(--cut)'].map((stroke, i) => (
								<path
									key={stroke}
									d={`M${p[0] - 10} ${p[1] - 10}l20 20m0 -20l-20 20`}
									stroke={stroke}
									strokeWidth={i === 0 ? 5 : 2.2}
								/>
							))}
						</g>
					)
				);
			})}
			<title>{preview.words}</title>
		</>
	);
}
