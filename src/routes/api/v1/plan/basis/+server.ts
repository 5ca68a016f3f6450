import { z } from 'zod';
import { saveBasis } from '$lib/server/accounts/department-plan';
import { takes } from '$lib/server/doors/http';
import { Basis, Known } from '$lib/server/platform/schemas';

const Request = z.strictObject({ scenario: Known, department: Known, account: Known, basis: Basis });

export const POST = takes({ may: 'plan figures', body: Request, size: 4096 }, async ({ context, input }) => {
	await saveBasis(context, input.scenario, input.department, input.account, input.basis);
});
