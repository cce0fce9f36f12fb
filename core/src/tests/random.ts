/** Seeded random numbers and bodies for tests and benchmarks. */
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, meshBody, sphereBody } from '../geometry/body';
import { buildHull } from '../geometry/hull';
import { rotationOf } from '../geometry/matrix';
import { Mesh } from '../space/mesh';

/** A generator of numbers in 0…1 (mulberry32), the same for the same seed. */
export function random(seed: number): () => number {
	let a = seed >>> 0;
	return () => {
		a = (a + 0x6d2b79f5) >>> 0;
		let t = a;
		t = Math.imul(t ^ (t >>> 15), t | 1);
		t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	};
}

export class Dice {
	constructor(readonly next: () => number) {}

	between(low: number, high: number): number {
		return low + (high - low) * this.next();
	}

	whole(low: number, high: number): number {
		return low + Math.floor(this.next() * (high - low + 1));
	}

	chance(p: number): boolean {
		return this.next() < p;
	}

	of<T>(list: readonly T[]): T {
		return list[Math.floor(this.next() * list.length)] as T;
	}

	some<T>(list: readonly T[], p: number): T[] {
		return list.filter(() => this.chance(p));
	}

	/** A unit vector; sometimes along an axis. */
	direction(): [number, number, number] {
		if (this.chance(0.2))
			return this.of<[number, number, number]>([
				[1, 0, 0],
				[-1, 0, 0],
				[0, 1, 0],
				[0, -1, 0],
				[0, 0, 1],
				[0, 0, -1],
			]);
		const z = this.between(-1, 1);
		const a = this.between(0, 2 * Math.PI);
		const r = Math.sqrt(1 - z * z);
		return [r * Math.cos(a), r * Math.sin(a), z];
	}

	/** Yaw, pitch, roll in degrees; sometimes none, sometimes quarter turns. */
	rotation(): [number, number, number] {
		if (this.chance(0.25)) return [0, 0, 0];
		if (this.chance(0.25)) return [90 * this.whole(-2, 2), 90 * this.whole(-1, 1), 90 * this.whole(-2, 2)];
		return [this.between(-180, 180), this.between(-90, 90), this.between(-180, 180)];
	}

	/** A body of a random kind, about one unit large times `size`, at the origin. */
	body(size: number, kinds: readonly string[] = ['box', 'sphere', 'capsule', 'cylinder', 'hull']): Body {
		const s = () => size * this.between(0.1, 1);
		const m = rotationOf(this.rotation());
		switch (this.of(kinds)) {
			case 'box':
				return boxBody(s(), s(), s()).place(0, 0, 0, m);
			case 'sphere':
				return sphereBody(s() / 2).place(0, 0, 0, m);
			case 'capsule': {
				const r = s() / 3;
				return capsuleBody(r, 2 * r + s()).place(0, 0, 0, m);
			}
			case 'cylinder':
				return cylinderBody(s() / 2, s()).place(0, 0, 0, m);
			case 'mesh': {
				const vertices = Array.from({ length: 3 * this.whole(4, 12) }, () => size * this.between(-0.6, 0.6));
				const triangles = Array.from({ length: 3 * this.whole(1, 10) }, () => this.whole(0, vertices.length / 3 - 1));
				return meshBody(new Mesh(vertices, triangles)).place(0, 0, 0, m);
			}
			default:
				for (;;) {
					const points = Array.from({ length: 3 * this.whole(4, 40) }, () => size * this.between(-0.6, 0.6));
					const hull = buildHull(points);
					if (hull) return hullBody(hull).place(0, 0, 0, m);
				}
		}
	}
}

export const dice = (seed: number): Dice => new Dice(random(seed));
