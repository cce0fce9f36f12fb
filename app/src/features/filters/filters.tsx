/** The filters of the whole project: layers against queries, tags as families, sides and stances, states. */
import { type Project, replaceUses, type Stance } from '@frelk/core';
import { Copy, Plus, Trash2 } from 'lucide-react';
import { type ReactNode, useRef, useState } from 'react';
import { Button, Check, NumberField, Select, TextField } from '../../ui/controls';
import { nameOf, useBench, useBenchStore } from '../bench/store';
import { freshId } from '../edit/objects';
import { hex, maskFor, nextUse, renameState, rulingOf, setUse, statesOf, tagUse, type Use } from './table';

export function FiltersView() {
	return (
		<main className="min-h-0 overflow-auto">
			<h2 className="sr-only">Filters</h2>
			<Layers />
			<div className="grid grid-cols-[repeat(auto-fit,minmax(24rem,1fr))] items-start gap-x-8 px-4 pb-8">
				<Tags />
				<div>
					<Sides />
					<States of="object" />
					<States of="scene" />
				</div>
			</div>
		</main>
	);
}

/** Shape, tone and word of each use: open for what is chosen, barred for what stops, both together. */
function UseMark({ use }: { use: Use }) {
	return (
		<svg viewBox="0 0 16 12" width="18" height="14" aria-hidden="true">
			{(use === 'chooses' || use === 'both') && <path d="M8 1l5 5-5 5-5-5z" fill="var(--chosen)" />}
			{(use === 'stops' || use === 'both') && <path d="M13.5 0v12" stroke="var(--cut)" strokeWidth="2.5" />}
			{use === 'passes' && <path d="M3 6h10" stroke="var(--quiet)" strokeDasharray="1.5 2.5" />}
		</svg>
	);
}

function Layers() {
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
					{(['chooses', 'stops', 'both', 'passes'] as const).map((use) => (
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
					<table className="border-separate border-spacing-0" onPointerUp={() => endPaint()} onPointerLeave={() => endPaint()}>
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
												onCommit={(name) =>
													store.getState().edit('Name of a layer', (draft) => {
														const target = draft.scene.layers[i];
														if (target) target.name = name.trim() || target.id;
													})
												}
											/>
											<Button
												quiet
												className="px-1!"
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
										{query.name ?? query.id}
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
														write(query.id, layer.id, painting.current);
													}}
													onPointerEnter={() => painting.current && write(query.id, layer.id, painting.current)}
													onKeyDown={(event) => {
														const move = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
														if (move) {
															event.preventDefault();
															moveFocus(event.currentTarget, move[0] as number, move[1] as number);
														}
														if (event.key === 'Enter' || event.key === ' ') {
															event.preventDefault();
															write(query.id, layer.id, nextUse(use, event.shiftKey));
														}
													}}
												>
													<UseMark use={use} />
													<span className={use === 'passes' ? 'text-quiet' : ''}>{use}</span>
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
			{project.queries.length === 0 && all.length > 0 && <p className="mt-2 text-quiet">No query yet: the table fills as queries are made.</p>}
			<p className="mt-2 text-[12px] text-quiet">Click a cell to go through its uses, drag to paint, Shift to go back. By keyboard: arrow keys and Enter.</p>
		</section>
	);

	function endPaint() {
		if (painting.current === null) return;
		painting.current = null;
		store.getState().endGesture();
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

const idOf = (text: string): string =>
	text
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+|-+$/g, '')
		.slice(0, 64);

/** A field and a button that add a thing by its name. */
function Adder({ label, onAdd }: { label: string; onAdd: (id: string, text: string) => void }) {
	const [text, setText] = useState('');
	return (
		<form
			className="mt-1 flex gap-1"
			onSubmit={(event) => {
				event.preventDefault();
				const id = idOf(text);
				if (id !== '') onAdd(id, text.trim());
				setText('');
			}}
		>
			<input aria-label={label} placeholder={label.toLowerCase()} className="w-44" value={text} onChange={(event) => setText(event.target.value)} />
			<Button type="submit" disabled={idOf(text) === ''}>
				Add
			</Button>
		</form>
	);
}

function Counts({ carried, asked, project }: { carried: readonly string[]; asked: readonly string[]; project: Project }) {
	return (
		<>
			<span className={carried.length === 0 ? 'text-cut' : 'text-quiet'} title={carried.map((id) => nameOf(project, 'object', id)).join(', ')}>
				{carried.length === 0 ? 'carried by nothing' : `on ${carried.length}`}
			</span>
			<span className="truncate text-quiet">{asked.length === 0 ? 'asked by none' : asked.map((id) => nameOf(project, 'query', id)).join(', ')}</span>
		</>
	);
}

function Tags() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const { tags } = project.scene;
	const [dragged, setDragged] = useState<string | null>(null);
	const [over, setOver] = useState<string | null>(null);
	const standsUnder = (id: string, upper: string): boolean => {
		for (let at: string | undefined = id; at !== undefined; at = tags.find((t) => t.id === at)?.under) if (at === upper) return true;
		return false;
	};
	const putUnder = (id: string, upper: string | null) => {
		if (upper !== null && standsUnder(upper, id)) {
			if (upper !== id) store.getState().refuse(`${upper} stands under ${id}; a family cannot go round in a circle.`);
			return;
		}
		store.getState().edit(`Family of ${id}`, (draft) => {
			const tag = draft.scene.tags.find((t) => t.id === id);
			if (!tag) return;
			if (upper === null) delete tag.under;
			else tag.under = upper;
		});
	};
	const rename = (id: string, wish: string) => {
		const to = idOf(wish);
		if (to === '' || to === id) return;
		if (tags.some((t) => t.id === to)) {
			store.getState().refuse(`There is a tag ${to} already.`);
			return;
		}
		const next = replaceUses(project, 'tag', id, to);
		const tag = next.scene.tags.find((t) => t.id === id);
		if (tag) tag.id = to;
		store.getState().put(`Rename the tag ${id}`, next);
	};
	const rows = (under: string | undefined, depth: number): ReactNode =>
		tags
			.filter((t) => t.under === under)
			.map((tag) => {
				const { carriedBy, askedBy } = tagUse(project, tag.id);
				return (
					<li key={tag.id}>
						{/* biome-ignore lint/a11y/noStaticElementInteractions: dragging is a short cut; the list beside does the same by keyboard */}
						<div
							draggable
							className={`grid cursor-grab grid-cols-[minmax(9rem,1fr)_6.5rem_minmax(0,1fr)_7rem_auto] items-center gap-2 border-t py-0.5 ${over === tag.id ? 'bg-[var(--wash)]' : ''}`}
							style={{ paddingLeft: depth * 18 }}
							onDragStart={(event) => {
								setDragged(tag.id);
								event.dataTransfer.setData('text/plain', tag.id);
							}}
							onDragOver={(event) => {
								event.preventDefault();
								event.stopPropagation();
								setOver(tag.id);
							}}
							onDragLeave={() => setOver(null)}
							onDrop={(event) => {
								event.preventDefault();
								event.stopPropagation();
								setOver(null);
								if (dragged !== null) putUnder(dragged, tag.id);
								setDragged(null);
							}}
						>
							<TextField label={`Id of the tag ${tag.id}`} className="figure border-transparent!" value={tag.id} onCommit={(wish) => rename(tag.id, wish)} />
							<Counts carried={carriedBy} asked={askedBy} project={project} />
							<Select
								label={`${tag.id} stands under`}
								value={tag.under ?? ''}
								options={[
									{ value: '', label: 'no other' },
									...tags.filter((t) => !standsUnder(t.id, tag.id)).map((t) => ({ value: t.id, label: `under ${t.id}` })),
								]}
								onChange={(upper) => putUnder(tag.id, upper === '' ? null : upper)}
							/>
							<Button
								quiet
								className="px-1!"
								aria-label={`Delete the tag ${tag.id}`}
								onClick={() => store.getState().show({ delete: { kind: 'tag', ids: [tag.id] } })}
							>
								<Trash2 size={11} />
							</Button>
						</div>
						<ul>{rows(tag.id, depth + 1)}</ul>
					</li>
				);
			});
	return (
		<section
			aria-label="Tag families"
			onDragOver={(event) => event.preventDefault()}
			onDrop={() => {
				if (dragged !== null) putUnder(dragged, null);
				setDragged(null);
			}}
		>
			<h3 className="text-[15px] font-semibold">Tags as families</h3>
			<p className="text-[12px] text-quiet">A filter on the upper tag takes the lower ones too. Drag a tag onto another to put it under that one.</p>
			{tags.length === 0 && <p className="text-quiet">No tag yet.</p>}
			<ul>{rows(undefined, 0)}</ul>
			<Adder
				label="New tag"
				onAdd={(id) =>
					tags.some((t) => t.id === id)
						? store.getState().refuse(`There is a tag ${id} already.`)
						: store.getState().edit('New tag', (draft) => void draft.scene.tags.push({ id }))
				}
			/>
		</section>
	);
}

const STANCES: readonly Stance[] = ['hostile', 'neutral', 'friendly'];

function Sides() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const sides = project.scene.sides ?? [];
	const stances = project.scene.stances ?? [];
	const set = (from: string, to: string, stance: Stance | '') =>
		store.getState().edit('Stance', (draft) => {
			const rest = (draft.scene.stances ?? []).filter((s) => s.from !== from || s.to !== to);
			draft.scene.stances = stance === '' ? rest : [...rest, { from, to, stance }];
		});
	return (
		<section aria-label="Sides and stances" className="mb-6">
			<h3 className="text-[15px] font-semibold">Sides and stances</h3>
			{sides.length === 0 ? (
				<p className="text-quiet">No side yet: without sides every object is neutral to every other.</p>
			) : (
				<table>
					<thead>
						<tr>
							<th className="pr-3 text-left font-normal text-quiet">regards</th>
							{sides.map((side) => (
								<th key={side.id} scope="col" className="px-1 text-left">
									{side.name ?? side.id}
								</th>
							))}
							<th className="px-2 font-normal text-quiet">objects</th>
						</tr>
					</thead>
					<tbody>
						{sides.map((from) => (
							<tr key={from.id} className="border-t">
								<th scope="row" className="pr-3 text-left">
									<TextField
										label={`Name of the side ${from.name ?? from.id}`}
										className="border-transparent! font-semibold"
										value={from.name ?? from.id}
										onCommit={(name) =>
											store.getState().edit('Name of a side', (draft) => {
												const target = draft.scene.sides?.find((s) => s.id === from.id);
												if (target) target.name = name.trim() || target.id;
											})
										}
									/>
								</th>
								{sides.map((to) => (
									<td key={to.id} className="px-1 py-0.5">
										<Select<Stance | ''>
											label={`${from.name ?? from.id} regards ${to.name ?? to.id} as`}
											value={stances.find((s) => s.from === from.id && s.to === to.id)?.stance ?? ''}
											options={[{ value: '' as const, label: from.id === to.id ? '(friendly)' : '(neutral)' }, ...STANCES.map((s) => ({ value: s, label: s }))]}
											onChange={(stance) => set(from.id, to.id, stance)}
										/>
									</td>
								))}
								<td className="px-2 text-center text-quiet">{project.scene.objects.filter((o) => o.side === from.id).length}</td>
								<td>
									<Button
										quiet
										className="px-1!"
										aria-label={`Delete the side ${from.name ?? from.id}`}
										onClick={() => store.getState().show({ delete: { kind: 'side', ids: [from.id] } })}
									>
										<Trash2 size={11} />
									</Button>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			<Adder
				label="New side"
				onAdd={(id, text) =>
					sides.some((s) => s.id === id)
						? store.getState().refuse(`There is a side ${id} already.`)
						: store.getState().edit('New side', (draft) => void (draft.scene.sides = [...(draft.scene.sides ?? []), { id, name: text }]))
				}
			/>
		</section>
	);
}

function States({ of }: { of: 'object' | 'scene' }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const states = statesOf(project, of);
	const values = project.scene.states ?? {};
	return (
		<section aria-label={of === 'object' ? 'States of objects' : 'States of the scene'} className="mb-6">
			<h3 className="text-[15px] font-semibold">{of === 'object' ? 'States of objects' : 'States of the scene'}</h3>
			{states.length === 0 && (
				<p className="text-quiet">{of === 'object' ? 'No object has a state. They are added in its slip.' : 'The scene has no state.'}</p>
			)}
			<ul>
				{states.map(({ state, carriedBy, askedBy }) => (
					<li key={state} className="grid grid-cols-[minmax(8rem,1fr)_6.5rem_minmax(0,1fr)] items-center gap-2 border-t py-0.5">
						<TextField
							label={`Name of the state ${state}`}
							className="figure border-transparent!"
							value={state}
							onCommit={(to) =>
								to.trim() !== '' && store.getState().editPlain(`Rename the state ${state}`, (draft) => renameState(draft, of, state, to.trim()))
							}
						/>
						{of === 'scene' ? (
							<>
								{typeof values[state] === 'number' ? (
									<NumberField
										hideLabel
										label={state}
										step={1}
										value={values[state]}
										onChange={(v) => store.getState().edit(state, (d) => void (d.scene.states = { ...d.scene.states, [state]: v }))}
									/>
								) : (
									<Check
										label={state}
										checked={values[state] === true}
										onChange={(v) => store.getState().edit(state, (d) => void (d.scene.states = { ...d.scene.states, [state]: v }))}
									>
										{values[state] === undefined ? 'not set' : values[state] ? 'yes' : 'no'}
									</Check>
								)}
								<span className="text-quiet">{askedBy.length === 0 ? 'asked by none' : askedBy.map((id) => nameOf(project, 'query', id)).join(', ')}</span>
							</>
						) : (
							<Counts carried={carriedBy} asked={askedBy} project={project} />
						)}
					</li>
				))}
			</ul>
			{of === 'scene' && (
				<Adder
					label="New state of the scene"
					onAdd={(id) => store.getState().edit('New state', (d) => void (d.scene.states = { ...d.scene.states, [id]: false }))}
				/>
			)}
		</section>
	);
}
