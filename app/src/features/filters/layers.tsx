/** The layer table: what each query does with each layer, painted by hand; masks to copy. */
import { Copy, Plus, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, TextField } from '../../ui/controls';
import { beginDrag } from '../../ui/drag';
import { nameThing } from '../edit/naming';
import { freshId } from '../edit/objects';
import { hex, maskFor, nextUse, rulingOf, setUse, type Use } from './table';

/** Shape, tone and word of each use: open for what is chosen, barred for what stops, both together. */
function UseMark({ use }: { use: Use }) {
	return (
		<svg viewBox="0 0 16 12" width="18" height="14" aria-hidden="true">
			{(use === 'chooses' || use === 'both') && <path d="M8 1l5 5-5 5-5-5z" fill="var(--chosen)" />}
			{(use === 'stops' || use === 'both') && <path d="M13.5 0v12" stroke="var(--cut)" strokeWidth="2.5" />}
			{use === 'neither' && <path d="M3 6h10" stroke="var(--quiet)" strokeDasharray="1.5 2.5" />}
		</svg>
	);
}

export function Layers() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const painting = useRef<Use | null>(null);
	const all = project.scene.layers.map((l) => l.id);
	const write = (query: string, layer: string, use: Use) => {
		const target = project.queries.find((q) => q.id === query);
		if (!target) return;
		if (rulingOf(target, layer) === use) return;
		let fine = true;
		store.getState().edit(`Layer table: ${nameOf(project, 'layer', layer)}`, (draft) => {
			const q = draft.queries.find((entry) => entry.id === query);
			if (q) fine = setUse(q, layer, use, all);
		});
		if (!fine) store.getState().refuse(`${target.name ?? target.id} must choose from at least one layer.`);
	};
	const moveFocus = (cell: HTMLElement, dx: number, dy: number) => {
		const row = cell.closest('tr');
		const at = [...(row?.querySelectorAll<HTMLElement>('[data-use]') ?? [])].indexOf(cell);
		const rows = [...(cell.closest('tbody')?.querySelectorAll('tr') ?? [])];
		const next = rows[rows.indexOf(row as HTMLTableRowElement) + dy];
		next?.querySelectorAll<HTMLElement>('[data-use]')[at + dx]?.focus();
	};
	return (
		<section aria-label="Layer table" className="p-4">
			<header className="mb-2 flex items-center gap-3">
				<h3 className="text-[15px] font-semibold">Queries by layers</h3>
				<span className="flex items-center gap-3 text-quiet">
					{(['chooses', 'stops', 'both', 'neither'] as const).map((use) => (
						<span key={use} className="flex items-center gap-1">
							<UseMark use={use} /> {use}
						</span>
					))}
				</span>
				<Button
					className="ml-auto"
					disabled={all.length >= 32}
					onClick={() =>
						store.getState().edit('New layer', (draft) => {
							const id = freshId(all, 'layer');
							draft.scene.layers.push({ id, name: `Layer ${draft.scene.layers.length + 1}` });
						})
					}
				>
					<Plus size={13} /> Layer
				</Button>
			</header>
			{all.length === 0 ? (
				<p className="text-quiet">This project has no layer. Add one: every object is on exactly one.</p>
			) : (
				<div className="overflow-x-auto">
					<table className="border-separate border-spacing-0">
						<thead>
							<tr>
								<th className="border-b px-2 text-left font-normal text-quiet">query</th>
								{project.scene.layers.map((layer, i) => (
									<th key={layer.id} scope="col" className="min-w-28 border-b px-1 align-bottom font-normal">
										<span className="flex items-center">
											<TextField
												label={`Name of layer ${layer.name ?? layer.id}`}
												className="border-transparent! font-semibold"
												value={layer.name ?? layer.id}
												onCommit={(name) => nameThing(store, 'layer', layer.id, name)}
											/>
											<Button
												quiet
												className="px-1.5!"
												aria-label={`Delete layer ${layer.name ?? layer.id}`}
												onClick={() => store.getState().show({ delete: { kind: 'layer', ids: [layer.id] } })}
											>
												<Trash2 size={11} />
											</Button>
										</span>
										<span className="figure block px-1.5 text-left text-[11px] text-quiet">
											bit {i} · {hex((1 << i) >>> 0)}
										</span>
									</th>
								))}
								<th className="border-b px-2 text-left font-normal text-quiet">mask: chooses</th>
								<th className="border-b px-2 text-left font-normal text-quiet">mask: stops</th>
							</tr>
						</thead>
						<tbody>
							{project.queries.map((query) => (
								<tr key={query.id}>
									<th scope="row" className="border-b px-2 py-1 text-left font-semibold whitespace-nowrap">
										<span className="block max-w-56 truncate" title={query.name ?? query.id}>
											{query.name ?? query.id}
										</span>
									</th>
									{project.scene.layers.map((layer) => {
										const use = rulingOf(query, layer.id);
										return (
											<td key={layer.id} className="border-b border-l p-0">
												<button
													type="button"
													data-use={use}
													aria-label={`${query.name ?? query.id}, ${layer.name ?? layer.id}: ${use}`}
													className="flex h-8 w-full touch-none items-center gap-1.5 px-2 hover:bg-[var(--wash)]"
													onPointerDown={(event) => {
														if (event.button !== 0) return;
														event.currentTarget.releasePointerCapture(event.pointerId);
														painting.current = nextUse(use, event.shiftKey);
														store.getState().beginGesture('Paint the layer table');
														beginDrag(event, {
															through: true,
															end: () => endPaint(true),
															cancel: () => endPaint(false),
														});
														write(query.id, layer.id, painting.current);
													}}
													onPointerEnter={() => painting.current && write(query.id, layer.id, painting.current)}
													onKeyDown={(event) => {
														const move = {
															ArrowLeft: [-1, 0],
															ArrowRight: [1, 0],
															ArrowUp: [0, -1],
															ArrowDown: [0, 1],
														}[event.key];
														if (move) {
															event.preventDefault();
															moveFocus(event.currentTarget, move[0], move[1]);
														}
														if (event.key === 'Enter' || event.key === ' ') {
															event.preventDefault();
															write(query.id, layer.id, nextUse(use, event.shiftKey));
														}
													}}
												>
													<UseMark use={use} />
													<span className={use === 'neither' ? 'text-quiet' : ''}>{use}</span>
												</button>
											</td>
										);
									})}
									<Mask mask={maskFor(query.selects?.layers, all, 'all')} what={`${query.name ?? query.id}, chooses`} />
									<Mask mask={maskFor(query.sight?.blockers, all, 'none')} what={`${query.name ?? query.id}, stops`} />
								</tr>
							))}
						</tbody>
					</table>
				</div>
			)}
			{project.queries.length === 0 && all.length > 0 && (
				<p className="mt-2 text-quiet">No query yet: the table fills as queries are made.</p>
			)}
			<p className="mt-2 text-[12px] text-quiet">
				Click a cell to go through its uses, drag to paint, Shift to go back. By keyboard: arrow keys and Enter.
			</p>
		</section>
	);

	function endPaint(kept: boolean) {
		painting.current = null;
		if (kept) store.getState().endGesture();
		else store.getState().cancelGesture();
	}
}

function Mask({ mask, what }: { mask: number; what: string }) {
	const [said, setSaid] = useState<string | null>(null);
	const copy = (text: string) => {
		navigator.clipboard.writeText(text).then(
			() => setSaid('copied'),
			() => setSaid('not allowed'),
		);
		setTimeout(() => setSaid(null), 1500);
	};
	return (
		<td className="border-b border-l px-2 whitespace-nowrap">
			<button
				type="button"
				className="figure rounded-[2px] px-1 hover:bg-[var(--wash)]"
				aria-label={`Copy ${hex(mask)}, mask of ${what}`}
				onClick={() => copy(hex(mask))}
			>
				{hex(mask)}
			</button>
			<button
				type="button"
				className="figure rounded-[2px] px-1 text-quiet hover:bg-[var(--wash)]"
				aria-label={`Copy ${mask}, mask of ${what}`}
				onClick={() => copy(String(mask))}
			>
				{mask} <Copy size={10} className="inline" />
			</button>
			{said && (
				<span role="status" className="text-[11px] text-quiet">
					{said}
				</span>
			)}
		</td>
	);
}
