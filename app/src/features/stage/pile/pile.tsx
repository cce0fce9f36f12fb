/** The pile under the cursor of a flat pick: what lies on what, changed by dragging a row or with Alt and the arrow keys. */
import { isNote, placementOf, type QueryOf, type World, type WorldObject } from '@frelk/core';
import { nearestOn } from '@frelk/core/geometry';
import { useState } from 'react';
import { verdictOn } from '../../../model/derived';
import { nameOf } from '../../../model/names';
import { useBench, useBenchStore, useDerived } from '../../../model/use-bench';
import { Button } from '../../../ui/controls';
import { beginDrag } from '../../../ui/drag';
import { Mark } from '../../../ui/marks';
import { placeAt } from '../handles/object-handles';

const spot = new Float64Array(3);

/** Objects with a figure under a point of the picture, the uppermost first. */
export function pileAt(world: World, x: number, y: number): WorldObject[] {
	const found = new Set<WorldObject>();
	for (const shape of world.shapes) if (nearestOn(shape.body, x, y, 0, spot) <= 1e-9) found.add(shape.object);
	return [...found].sort((a, b) => b.position[2] - a.position[2] || a.index - b.index);
}

/** The depth between two neighbours, or beyond the outermost one. */
export function depthBetween(above: number | undefined, below: number | undefined, step: number): number {
	if (above === undefined) return below === undefined ? 0 : below + step;
	if (below === undefined) return above - step;
	return (above + below) / 2;
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
	const move = (id: string, to: number) => {
		const rest = pile.filter((o) => o.id !== id);
		const object = world.objectById.get(id);
		if (!object || rest.length === 0) return;
		const at = Math.max(0, Math.min(rest.length, to));
		const [above, below] = [rest[at - 1]?.position[2], rest[at]?.position[2]];
		const z = Number(depthBetween(above, below, 0.01).toFixed(6));
		// Between two at one depth there is no room: they would tie, all three.
		if (above !== undefined && above === below) return setAsked({ id, at });
		if (z !== object.position[2])
			store
				.getState()
				.edit(`Depth of ${nameOf(project, 'object', id)}`, (draft) =>
					placeAt(draft, world, id, [object.position[0], object.position[1], z]),
				);
	};
	const setApart = () => {
		if (!asked) return;
		const rest = pile.filter((o) => o.id !== asked.id);
		const object = world.objectById.get(asked.id);
		setAsked(null);
		if (!object) return;
		const level = rest[asked.at]?.position[2] ?? 0;
		// What lies over the gap is lifted by two steps, and the one put between by one.
		const step = Math.min(0.01, ...rest.map((o) => o.position[2] - level).filter((d) => d > 0)) / 4;
		const raised = rest.slice(0, asked.at).filter((o) => o.position[2] === level);
		store.getState().edit(`Depth of ${nameOf(project, 'object', asked.id)}`, (draft) => {
			for (const o of raised)
				placeAt(draft, world, o.id, [o.position[0], o.position[1], Number((level + 2 * step).toFixed(6))]);
			placeAt(draft, world, asked.id, [object.position[0], object.position[1], Number((level + step).toFixed(6))]);
		});
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
						The two lie at one depth: with {nameOf(project, 'object', asked.id)} between, they would tie. Put it between
						and set them apart?
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
