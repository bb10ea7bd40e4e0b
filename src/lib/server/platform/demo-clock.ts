import type { Database, Tx } from './db/database';

/** Begins to move the demo's clock. @param to instant @returns false if it is moving already */
export async function beginMovingClock(db: Database, to: string): Promise<boolean> {
	return (await db.queryOutsideFirm('update demo_clock set moving_to = $1 where moving_to is null returning 1 as yes', [to])).length > 0;
}

export async function isClockMoving(db: Database): Promise<boolean> {
	const [row] = await db.queryOutsideFirm<{ moving: boolean }>('select moving_to is not null as moving from demo_clock');
	return row?.moving ?? false;
}

/** Puts the clock forward, never back. @param ms ahead of real time, in milliseconds */
export async function putClockForward(db: Database, ms: number): Promise<void> {
	await db.queryOutsideFirm('update demo_clock set offset_ms = $1 where offset_ms < $1', [ms]);
}

export async function endMovingClock(db: Database): Promise<void> {
	await db.queryOutsideFirm('update demo_clock set moving_to = null');
}

/** Sessions live by the time people really spend: they move along with the clock. */
export async function moveSessionsAlong(tx: Tx, seconds: number): Promise<void> {
	await tx.rows(
		`update session set rotated_at = rotated_at + make_interval(secs => $1), last_used_at = last_used_at + make_interval(secs => $1),
			expires_at = expires_at + make_interval(secs => $1), created_at = created_at + make_interval(secs => $1) where ended_at is null`,
		[seconds]
	);
}
