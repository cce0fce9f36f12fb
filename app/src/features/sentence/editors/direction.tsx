/** A direction: along an axis of something, or toward a place. */
import type { Direction } from '@frelk/core';
import { useBench } from '../../../model/use-bench';
import { Select } from '../../../ui/controls';
import { VectorFields } from '../../../ui/vector-fields';
import { AnchorEditor } from './anchor';
import { Row } from './row';

export function DirectionEditor({
	direction,
	self,
	onChange,
}: {
	direction: Direction;
	self: string;
	onChange: (direction: Direction) => void;
}) {
	const project = useBench((s) => s.project);
	const flat = project.scene.kind === 'flat';
	const axes = [
		{ value: '', label: 'the world' },
		...project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id })),
		...project.scene.cameras.map((c) => ({ value: c.id, label: c.name ?? c.id })),
	];
	return (
		<div>
			<Row>
				<Select
					label="Direction: kind"
					value={direction.toward ? 'toward' : 'along'}
					options={[
						{ value: 'along', label: 'along an axis' },
						{ value: 'toward', label: 'toward a place' },
					]}
					onChange={(kind) =>
						onChange(kind === 'along' ? { along: flat ? [1, 0, 0] : [0, 0, -1] } : { toward: { point: [0, 0, 0] } })
					}
					className="w-full"
				/>
			</Row>
			{direction.toward ? (
				<AnchorEditor
					label="Toward"
					anchor={direction.toward}
					self={self}
					onChange={(toward) => onChange({ toward })}
				/>
			) : (
				<>
					<Row>
						<VectorFields
							label="Along"
							value={direction.along ?? [0, 0, -1]}
							onChange={(along) => onChange({ ...direction, along })}
						/>
					</Row>
					<Row>
						<span className="text-quiet">in the axes of</span>
						<Select
							label="Axes of"
							value={direction.of ?? ''}
							options={axes}
							onChange={(of) =>
								onChange(
									of === '' ? { along: direction.along ?? [0, 0, -1] } : { along: direction.along ?? [0, 0, -1], of },
								)
							}
							className="w-full"
						/>
					</Row>
				</>
			)}
		</div>
	);
}
