/** The pile under the cursor of a flat pick: what lies on what, changed by dragging a row or with Alt and the arrow keys. */
import { isNote, placementOf, type QueryOf, rounded, type World, type WorldObject } from '@frelk/core';
import { nearestOn } from '@frelk/core/geometry';
import { useState } from 'react';
import { verdictOn } from '../../../model/derived';
import { nameOf } from '../../../model/names';
import { useBench, useBenchStore, useDerived } from '../../../model/use-bench';
import { Button } from '../../../ui/controls';
import { beginDrag } from '../../../ui/drag';
import { Mark } from '../../../ui/marks';
import { depthStep, type PileMove, placeInPile } from '../../edit/depth';
import { topmost } from '../../edit/objects';
import { placeAt } from '../handles/object-handles';

const spot = new Float64Array(3);

/** Objects with a figure under a point of the picture, the uppermost first. */
export function pileAt(world: World, x: number, y: number): WorldObject[] {
	const found = new Set<WorldObject>();
	for (const shape of world.shapes) if (nearestOn(shape.body, x, y, 0, spot) <= 1e-9) found.add(shape.object);
	return [...found].sort((a, b) => b.position[2] - a.position[2] || a.index - b.index);
}

export default function Pile({ world, query }: { world: World; query: QueryOf<'pick'> }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const { current } = useDerived();
	const [over, setOver] = useState<number | null>(null);
	const [asked, setAsked] = useState<{ id: string; at: number } | null>(null);
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const placement = placementOf({ world, query, asker, hitOf: () => null });
	if (isNote(placement) || !placement.path) return null;
	const pile = pileAt(world, placement.path.start[0], placement.path.start[1]);
	if (pile.length === 0) return null;
	const placeOf = (id: string, to: number): PileMove | null => {
		const rest = pile.filter((o) => o.id !== id).map((o) => ({ id: o.id, depth: o.position[2] }));
		if (rest.length === 0) return null;
		return placeInPile(rest, Math.max(0, Math.min(rest.length, to)), 0.01, depthStep(project));
	};
	const put = (id: string, { depth, lift }: PileMove) => {
		const object = world.objectById.get(id);
		if (!object || (lift === null && depth === object.position[2])) return;
		store.getState().edit(`Depth of ${nameOf(project, 'object', id)}`, (draft) => {
			for (const { id: above, position } of topmost(world, lift?.ids ?? []))
				placeAt(draft, world, above, [position[0], position[1], rounded(position[2] + (lift?.by ?? 0))]);
			placeAt(draft, world, id, [object.position[0], object.position[1], depth]);
		});
	};
	const move = (id: string, to: number) => {
		const place = placeOf(id, to);
		if (!place) return;
		// Between two with no room between them they would tie, all three.
		if (place.lift) setAsked({ id, at: to });
		else put(id, place);
	};
	const setApart = () => {
		const place = asked && placeOf(asked.id, asked.at);
		setAsked(null);
		if (asked && place) put(asked.id, place);
	};
	return (
		<section
			aria-label="Pile under the cursor"
			className="absolute bottom-3 left-3 w-60 rounded-[4px] border bg-panel py-1 shadow-sm"
			data-keeps-wheel
		>
			<h2 className="px-2 text-[12px] text-quiet">Under the cursor, uppermost first</h2>
			{asked && (
				<div role="alertdialog" aria-label="They would tie" className="border-b px-2 py-1 text-[12px]">
					<p>
						There is no room between the two: with {nameOf(project, 'object', asked.id)} between, they would tie. Put it
						between and set them apart?
					</p>
					<p className="mt-1 flex gap-1">
						<Button autoFocus onClick={setApart}>
							Set them apart
						</Button>
						<Button quiet onClick={() => setAsked(null)}>
							Leave it
						</Button>
					</p>
				</div>
			)}
			<ol className="max-h-44 overflow-auto">
				{pile.map((object, i) => {
					const verdict = verdictOn(world, current, object.id);
					const level = pile[i - 1]?.position[2] === object.position[2];
					return (
						<li key={object.id} className={over === i ? 'border-t-2 border-ink' : 'border-t-2 border-transparent'}>
							<button
								type="button"
								aria-label={`${nameOf(project, 'object', object.id)}, depth ${object.position[2]} m; Alt and arrow keys move it in the pile`}
								className="flex w-full cursor-grab touch-none items-center gap-2 px-2 py-0.5 text-left hover:bg-[var(--wash)]"
								onClick={() => store.getState().pick(object.id)}
								onPointerEnter={() => store.getState().point(object.id)}
								onPointerLeave={() => store.getState().point(null)}
								onPointerDown={(event) => {
									const list = event.currentTarget.closest('ol');
									let moved = false;
									beginDrag(event, {
										move: (event) => {
											moved = true;
											setOver(rowUnder(list, event.clientY));
										},
										end: (up) => {
											const to = rowUnder(list, up.clientY);
											if (moved && to !== i) move(object.id, to > i ? to - 1 : to);
											setOver(null);
										},
										cancel: () => setOver(null),
									});
								}}
								onKeyDown={(event) => {
									if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
									event.preventDefault();
									move(object.id, event.key === 'ArrowUp' ? i - 1 : i + 1);
								}}
							>
								<Mark stage={verdict?.stage ?? 'layer'} size={10} />
								<span className="flex-1 truncate">{nameOf(project, 'object', object.id)}</span>
								<span className={`figure ${level ? 'text-tie' : 'text-quiet'}`}>
									{level ? 'level, ' : ''}
									{object.position[2]} m
								</span>
							</button>
						</li>
					);
				})}
			</ol>
		</section>
	);
}

/** Which row a height on the screen falls before. */
function rowUnder(list: Element | null, y: number): number {
	const rows = [...(list?.querySelectorAll('li') ?? [])];
	const at = rows.findIndex((row) => {
		const box = row.getBoundingClientRect();
		return y < box.top + box.height / 2;
	});
	return at < 0 ? rows.length : at;
}
