import { inCompanyWriting } from '$lib/server/doors/writing';
import { REPORT_PERIODS } from '$lib/core/views/written';
import { varianceCsv, varianceXlsx } from '$lib/server/reports/variance-file';
import { asked } from '$lib/server/doors/http';
import { varianceReport } from '$lib/server/reports/variance';
import { ReportRequest } from '$lib/server/platform/schemas';
import { companyState } from '$lib/server/company/structure';

export const GET = asked(ReportRequest, async ({ context, input: q }) => {
	const report = await varianceReport(context, {
		...q,
		threshold: { amount: q.amount, percent: q.percent }
	});
	if (q.format === 'json') return inCompanyWriting(context.db, report, REPORT_PERIODS);
	const { company, calendar } = await companyState(context.db);
	const span =
		report.from === report.to
			? calendar.longLabel(report.from)
			: `${calendar.longLabel(report.from)} to ${calendar.longLabel(report.to)}`;
	const selection = `${company.name} · ${report.departmentName} · ${span}`;
	const name = `variance-${q.scenario}-${calendar.key(q.period)}-${q.span}.${q.format}`;
	const download = (type: string) => ({
		'content-type': type,
		'content-disposition': `attachment; filename="${name}"`
	});
	if (q.format === 'csv')
		return new Response(varianceCsv(report), { headers: download('text/csv; charset=utf-8') });
	return new Response((await varianceXlsx(report, selection)) as BodyInit, {
		headers: download('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
	});
});
