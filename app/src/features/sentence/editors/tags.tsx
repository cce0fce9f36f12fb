/** Tags a query wants or forbids. */
import type { Query } from '@frelk/core';
import { useBench } from '../../../model/use-bench';
import { MakeHere } from './make';

const TAG_USES = ['any', 'all', 'none'] as const;

export function TagsEditor({
	query,
	onChange,
}: {
	query: Query;
	onChange: (tags: { any: string[]; all: string[]; none: string[] }) => void;
}) {
	const tags = useBench((s) => s.project.scene.tags);
	const now = {
		any: query.selects?.tags?.any ?? [],
		all: query.selects?.tags?.all ?? [],
		none: query.selects?.tags?.none ?? [],
	};
	const depth = (id: string): number => {
		let n = 0;
		for (
			let at = tags.find((t) => t.id === id)?.under;
			at !== undefined && n < 8;
			at = tags.find((t) => t.id === at)?.under
		)
			n++;
		return n;
	};
	const make = (
		<MakeHere what="tag" choose={(id) => onChange({ ...now, any: [...now.any.filter((t) => t !== id), id] })} />
	);
	if (tags.length === 0) return make;
	return (
		<>
			<table className="w-full">
				<thead>
					<tr className="text-quiet">
						<th className="text-left font-normal">tag</th>
						{TAG_USES.map((use) => (
							<th key={use} className="font-normal">
								{use === 'any' ? 'any of' : use === 'all' ? 'all of' : 'none of'}
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{inFamilies(tags).map((tag) => (
						<tr key={tag.id}>
							<td className="figure" style={{ paddingLeft: depth(tag.id) * 12 }}>
								{tag.id}
							</td>
							{TAG_USES.map((use) => (
								<td key={use} className="text-center">
									<input
										type="checkbox"
										aria-label={`${tag.id}: ${use}`}
										checked={now[use].includes(tag.id)}
										onChange={(event) => {
											const next = {
												any: now.any.filter((t) => t !== tag.id),
												all: now.all.filter((t) => t !== tag.id),
												none: now.none.filter((t) => t !== tag.id),
											};
											if (event.target.checked) next[use].push(tag.id);
											onChange(next);
										}}
									/>
								</td>
							))}
						</tr>
					))}
				</tbody>
			</table>
			{make}
		</>
	);
}

function inFamilies<T extends { id: string; under?: string | undefined }>(tags: readonly T[]): T[] {
	const below = (id: string | undefined): T[] => tags.filter((t) => t.under === id).flatMap((t) => [t, ...below(t.id)]);
	return below(undefined);
}
