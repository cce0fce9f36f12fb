/** What a check expects, changed in words. */
import type { Expect } from '@frelk/core';
import { X } from 'lucide-react';
import { useBench } from '../../model/use-bench';
import { Button, Check, NumberField, Select, TextField } from '../../ui/controls';
import { VectorFields } from '../../ui/vector-fields';

type Kind = 'selects' | 'none' | 'tie' | 'off' | 'room' | 'no room';
const kindOf = (e: Expect): Kind =>
	e.selects
		? 'selects'
		: e.none
			? 'none'
			: e.tie
				? 'tie'
				: e.room !== undefined
					? e.room
						? 'room'
						: 'no room'
					: 'off';

/** Objects in order, each to be taken out, and more to be added. */
function Objects({
	label,
	ids,
	onChange,
}: {
	label: string;
	ids: readonly string[];
	onChange: (ids: string[]) => void;
}) {
	const objects = useBench((s) => s.project.scene.objects);
	return (
		<span className="flex flex-wrap items-center gap-1">
			{ids.map((id) => (
				<Button
					key={id}
					aria-label={`Take ${id} out of ${label}`}
					onClick={() => onChange(ids.filter((other) => other !== id))}
				>
					{objects.find((o) => o.id === id)?.name ?? id} <X size={11} />
				</Button>
			))}
			<Select
				label={`Add to ${label}`}
				value=""
				options={[
					{ value: '', label: 'add…' },
					...objects.filter((o) => !ids.includes(o.id)).map((o) => ({ value: o.id, label: o.name ?? o.id })),
				]}
				onChange={(id) => id !== '' && onChange([...ids, id])}
			/>
		</span>
	);
}

export function ExpectEditor({
	expect,
	query,
	onChange,
}: {
	expect: Expect;
	/** That is checked. */
	query: string;
	onChange: (expect: Expect) => void;
}) {
	const asksRoom = useBench((s) => s.project.queries.some((q) => q.id === query && q.kind === 'overlap' && q.room));
	const first = useBench((s) => s.project.scene.objects[0]?.id);
	const kind = kindOf(expect);
	const { selects, order, none, tie, off, room, ...also } = expect;
	const known = selects ?? tie ?? (first === undefined ? [] : [first]);
	const set = (next: Kind, ids: string[] = [...known]) => {
		if (next === 'selects')
			onChange({ ...also, selects: ids.length > 0 ? ids : [...known], ...(order ? { order } : {}) });
		if (next === 'none') onChange({ ...also, none: true });
		if (next === 'tie') onChange({ ...also, tie: ids });
		if (next === 'off') onChange({ ...also, off: true });
		if (next === 'room' || next === 'no room') onChange({ ...also, room: next === 'room' });
	};
	/** Leaves an additional condition out, or puts it in. */
	const put = (part: Partial<Expect>, remove?: keyof Expect) => {
		const next = { ...expect, ...part };
		if (remove) delete next[remove];
		onChange(next);
	};
	return (
		<div className="mt-1 space-y-1">
			<Select
				label="What is wanted"
				value={kind}
				options={[
					{ value: 'selects', label: 'selects' },
					{ value: 'none', label: 'selects nothing' },
					{ value: 'tie', label: 'a tie of' },
					{ value: 'off', label: 'is off' },
					...(asksRoom || room !== undefined
						? [
								{ value: 'room' as const, label: 'has room' },
								{ value: 'no room' as const, label: 'has no room' },
							]
						: []),
				]}
				onChange={(next) => set(next)}
			/>
			{kind === 'selects' && (
				<>
					<Objects
						label="the selection"
						ids={selects ?? []}
						onChange={(ids) => ids.length > 0 && set('selects', ids)}
					/>
					{(selects?.length ?? 0) > 1 && (
						<Check
							label="In any order"
							checked={order === 'any'}
							onChange={(on) => (on ? put({ order: 'any' }) : put({}, 'order'))}
						/>
					)}
				</>
			)}
			{kind === 'tie' && <Objects label="the tie" ids={tie ?? []} onChange={(ids) => set('tie', ids)} />}
			<div className="grid grid-cols-[5rem_1fr] items-center gap-1">
				<span className="text-quiet">but not</span>
				<Objects
					label="what must not be"
					ids={expect.not ?? []}
					onChange={(not) => (not.length > 0 ? put({ not }) : put({}, 'not'))}
				/>
				<span className="text-quiet">action</span>
				<TextField
					label="Action wanted"
					className="figure"
					value={expect.action ?? ''}
					onCommit={(action) => (action === '' ? put({}, 'action') : put({ action }))}
				/>
				<span className="text-quiet">point</span>
				<Check
					label="Near a point"
					checked={expect.point !== undefined}
					onChange={(on) => (on ? put({ point: { near: [0, 0, 0], within: 0.1 } }) : put({}, 'point'))}
				/>
				{expect.point && (
					<>
						<span className="text-quiet">near (m)</span>
						<VectorFields
							label="Near"
							value={expect.point.near}
							onChange={(near) => put({ point: { near, within: expect.point?.within ?? 0.1 } })}
						/>
						<span className="text-quiet">within</span>
						<NumberField
							hideLabel
							label="Within"
							unit="m"
							min={0}
							value={expect.point.within}
							onChange={(within) => put({ point: { near: expect.point?.near ?? [0, 0, 0], within } })}
						/>
					</>
				)}
				<span className="text-quiet">hidden</span>
				<Hidden blocked={expect.blocked} onChange={(blocked) => (blocked ? put({ blocked }) : put({}, 'blocked'))} />
			</div>
		</div>
	);
}

function Hidden({ blocked, onChange }: { blocked: Expect['blocked']; onChange: (blocked: Expect['blocked']) => void }) {
	const objects = useBench((s) => s.project.scene.objects).map((o) => ({ value: o.id, label: o.name ?? o.id }));
	const [a, b] = [objects[0]?.value ?? '', objects[1]?.value ?? ''];
	return (
		<span>
			<Check
				label="One hidden by another"
				checked={blocked !== undefined}
				onChange={(on) => onChange(on ? { object: a, by: b } : undefined)}
			/>
			{blocked && (
				<>
					<Select
						label="Hidden object"
						value={blocked.object}
						options={objects}
						onChange={(object) => onChange({ ...blocked, object })}
						className="w-full"
					/>
					<span className="text-quiet">by</span>
					<Select
						label="Hidden by"
						value={blocked.by}
						options={objects}
						onChange={(by) => onChange({ ...blocked, by })}
						className="w-full"
					/>
				</>
			)}
		</span>
	);
}
