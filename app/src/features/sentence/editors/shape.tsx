/** The shape a query sends out: its kind, sizes and points. */
import type { LikeShape, VolumeShape } from '@frelk/core';
import { useBench } from '../../../model/use-bench';
import { NumberField, Select } from '../../../ui/controls';
import { readPoints } from '../../card/points';

const FRESH: Record<string, VolumeShape> = {
	sphere: { kind: 'sphere', radius: 0.5 },
	circle: { kind: 'circle', radius: 0.5 },
	box: { kind: 'box', size: [1, 1, 1] },
	rect: { kind: 'rect', size: [1, 1] },
	capsule: { kind: 'capsule', radius: 0.3, height: 1.2 },
	cylinder: { kind: 'cylinder', radius: 0.5, height: 1 },
	hull: {
		kind: 'hull',
		points: [
			[-0.5, 0, -0.5],
			[0.5, 0, -0.5],
			[0, 0, 0.5],
			[0, 1, 0],
		],
	},
	polygon: {
		kind: 'polygon',
		points: [
			[-0.5, -0.5],
			[0.5, -0.5],
			[0, 0.5],
		],
	},
};

/** @param swept only what can be swept; @param like whether the shapes of an object can be taken instead */
export function ShapeEditor({
	label,
	shape,
	swept,
	like,
	onChange,
}: {
	label: string;
	shape: VolumeShape | LikeShape;
	swept?: boolean;
	like?: boolean;
	onChange: (shape: VolumeShape | LikeShape) => void;
}) {
	const project = useBench((s) => s.project);
	const flat = project.scene.kind === 'flat';
	const objects = project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id }));
	const kinds = flat
		? ['circle', 'rect', 'capsule', ...(swept ? [] : ['polygon'])]
		: ['sphere', 'box', 'capsule', ...(swept ? [] : ['cylinder', 'hull'])];
	const kind = 'like' in shape ? 'like' : shape.kind;
	return (
		<div className="space-y-1">
			<Select
				label={`${label} kind`}
				value={kind}
				options={[
					...kinds.map((k) => ({ value: k, label: k })),
					...(like && objects.length > 0 ? [{ value: 'like', label: 'the shapes of an object' }] : []),
				]}
				onChange={(next) =>
					onChange(
						next === 'like' ? { like: objects[0]?.value ?? '', grow: 0 } : structuredClone(FRESH[next] as VolumeShape),
					)
				}
				className="w-full"
			/>
			{'like' in shape ? (
				<>
					<Select
						label="Like"
						value={shape.like}
						options={objects}
						onChange={(id) => onChange({ ...shape, like: id })}
						className="w-full"
					/>
					<NumberField
						label="grown by"
						unit="m"
						min={0}
						step={0.01}
						value={shape.grow ?? 0}
						onChange={(grow) => onChange({ ...shape, grow })}
					/>
				</>
			) : (
				<>
					{'size' in shape &&
						shape.size.map((v, k) => (
							<NumberField
								// biome-ignore lint/suspicious/noArrayIndexKey: the sizes are told apart by their place
								key={k}
								label={['width', 'height', 'depth'][k] as string}
								unit="m"
								min={0.001}
								value={v}
								onChange={(n) => onChange({ ...shape, size: shape.size.with(k, n) as never })}
							/>
						))}
					{'radius' in shape && (
						<NumberField
							label="radius"
							unit="m"
							min={0.001}
							step={0.05}
							value={shape.radius}
							onChange={(radius) => onChange({ ...shape, radius })}
						/>
					)}
					{'height' in shape && (
						<NumberField
							label="height"
							unit="m"
							min={0.001}
							value={shape.height}
							onChange={(height) => onChange({ ...shape, height })}
						/>
					)}
					{'points' in shape && (
						<textarea
							key={JSON.stringify(shape.points)}
							aria-label={`${label}: points, one a line, metres`}
							className="figure h-24 w-full"
							defaultValue={shape.points.map((p) => p.join(' ')).join('\n')}
							onBlur={(event) => {
								const points = readPoints(event.target.value, shape.kind === 'hull' ? 3 : 2);
								if (typeof points !== 'string') onChange({ ...shape, points: points as never });
							}}
						/>
					)}
				</>
			)}
		</div>
	);
}
