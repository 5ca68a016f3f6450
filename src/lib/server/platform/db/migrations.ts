import type { Knex } from 'knex';
import { renameLedgerBlock } from './accounts-block';
import { sumLedgerMonths } from './ledger-months';

interface Migration extends Knex.Migration {
	name: string;
}

/** Steps of the database's form, in order. A step that has shipped is never changed; a new one is added. */
export const migrations: Migration[] = [
	{
		name: '001_first_month',
		async up(db) {
			await db.schema
				.createTable('company', (t) => {
					t.integer('id').primary();
					t.text('name').notNullable();
					t.text('currency').notNullable();
					t.integer('fiscal_start').notNullable();
					t.integer('decimals').notNullable();
					t.integer('closed_through');
					// Raised by every change to structure, map or ledger; calculated figures are kept per revision.
					t.integer('revision').notNullable().defaultTo(0);
				})
				.createTable('entity', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.integer('position').notNullable();
				})
				.createTable('department', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.text('parent').references('department.code').deferrable('deferred');
					t.text('entity').notNullable().references('entity.code').deferrable('deferred');
					t.integer('position').notNullable();
				})
				.createTable('account', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.text('parent').references('account.code').deferrable('deferred');
					t.text('type').notNullable();
					t.text('rollup').notNullable();
					t.text('format').notNullable();
					t.integer('position').notNullable();
				})
				.createTable('ledger_account', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.text('account').references('account.code').deferrable('deferred');
					t.integer('position').notNullable();
				})
				.createTable('dimension', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.integer('position').notNullable();
				})
				.createTable('member', (t) => {
					t.text('dimension').notNullable().references('dimension.code').deferrable('deferred');
					t.text('code').notNullable();
					t.text('name').notNullable();
					t.text('parent');
					t.text('attributes').notNullable();
					t.integer('position').notNullable();
					t.primary(['dimension', 'code']);
				})
				.createTable('model', (t) => {
					t.text('code').primary();
					t.integer('position').notNullable();
				})
				.createTable('model_row', (t) => {
					t.text('model').notNullable().references('model.code').deferrable('deferred');
					t.text('row').notNullable();
					t.integer('position').notNullable();
					t.primary(['model', 'row']);
				})
				.createTable('definition', (t) => {
					// Definitions never change: the id is a hash of the content, and scenarios share them.
					t.text('id').primary();
					t.text('content').notNullable();
				})
				.createTable('scenario', (t) => {
					t.text('code').primary();
					t.text('name').notNullable().unique();
					t.text('kind').notNullable();
					t.integer('first').notNullable();
					t.integer('last').notNullable();
					t.integer('actuals_through');
					t.text('follows').references('scenario.code').deferrable('deferred');
					t.text('origin');
					t.boolean('locked').notNullable();
					t.text('description').notNullable();
					t.integer('position').notNullable();
					t.integer('revision').notNullable().defaultTo(0);
				})
				.createTable('scenario_model', (t) => {
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('model').notNullable().references('model.code').deferrable('deferred');
					t.text('definition').notNullable().references('definition.id').deferrable('deferred');
					t.primary(['scenario', 'model']);
				})
				.createTable('series', (t) => {
					// One row per series; its periods are one blob of doubles (little endian), NaN where blank.
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('block').notNullable();
					t.text('line').notNullable();
					t.text('row').notNullable();
					t.integer('first').notNullable();
					t.binary('data').notNullable();
					t.primary(['scenario', 'block', 'line', 'row']);
				})
				.createTable('basis', (t) => {
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('account').notNullable().references('account.code').deferrable('deferred');
					t.text('department').notNullable().references('department.code').deferrable('deferred');
					t.text('kind').notNullable();
					t.float('percent');
					t.text('of_account');
					t.integer('months');
					t.primary(['scenario', 'account', 'department']);
				})
				.createTable('ledger_entry', (t) => {
					t.integer('id').primary();
					t.integer('period').notNullable();
					t.text('date').notNullable();
					t.text('ledger_account').notNullable();
					t.text('department').notNullable();
					// Debit positive.
					t.float('amount').notNullable();
					t.text('document').notNullable();
					t.text('party').notNullable();
					t.text('description').notNullable();
					// dimension=member, joined by ";" in the order of dimensions.
					t.text('tags').notNullable();
					t.index(['ledger_account', 'period'], 'ledger_entry_account');
					t.index(['period'], 'ledger_entry_period');
				})
				.createTable('ledger_total', (t) => {
					t.integer('period').notNullable();
					t.text('ledger_account').notNullable();
					t.text('department').notNullable();
					t.float('amount').notNullable();
					t.primary(['period', 'ledger_account', 'department']);
				})
				.createTable('feed_run', (t) => {
					t.increments('id');
					t.text('at').notNullable();
					t.text('user').notNullable();
					t.text('file').notNullable();
					t.integer('period').notNullable();
					t.integer('entries').notNullable();
					t.integer('replaced').notNullable();
					t.float('debits').notNullable();
					t.float('unmapped').notNullable();
				})
				.createTable('user', (t) => {
					t.text('email').primary();
					t.text('name').notNullable();
					t.text('role').notNullable();
					t.text('departments').notNullable();
					t.text('password_hash');
					t.integer('position').notNullable();
				})
				.createTable('session', (t) => {
					t.text('token_hash').primary();
					t.text('email').notNullable().references('user.email').onDelete('CASCADE');
					t.integer('expires_at').notNullable();
				})
				.createTable('round', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.text('scenario').notNullable().references('scenario.code').deferrable('deferred');
					t.text('due').notNullable();
					t.text('instructions').notNullable();
					t.integer('position').notNullable();
				})
				.createTable('submission', (t) => {
					t.text('round').notNullable().references('round.code').onDelete('CASCADE').deferrable('deferred');
					t.text('department').notNullable().references('department.code').deferrable('deferred');
					t.text('state').notNullable();
					t.text('due').notNullable();
					// Account totals at the moment of submitting, so that a later change shows.
					t.text('figures');
					t.primary(['round', 'department']);
				})
				.createTable('submission_event', (t) => {
					t.increments('id');
					t.text('round').notNullable();
					t.text('department').notNullable();
					t.text('at').notNullable();
					t.text('user').notNullable();
					t.text('action').notNullable();
					t.text('comment').notNullable();
					t.index(['round', 'department'], 'submission_event_submission');
				})
				.createTable('journal', (t) => {
					t.increments('id');
					t.text('at').notNullable();
					t.text('user').notNullable();
					t.text('kind').notNullable();
					t.text('scenario').notNullable();
					t.text('subject').notNullable();
					t.text('before').notNullable();
					t.text('after').notNullable();
					t.text('why').notNullable();
					t.index(['scenario', 'subject'], 'journal_subject');
				});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '002_driver_basis',
		async up(db) {
			await db.schema.alterTable('basis', (t) => {
				t.text('driver');
				t.float('rate');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '003_what_if',
		async up(db) {
			await db.schema
				.createTable('adjustment', (t) => {
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('code').notNullable();
					t.text('name').notNullable();
					t.boolean('on').notNullable();
					// JSON: what is done to which lines, in order.
					t.text('steps').notNullable();
					// When it was written into the inputs; it does nothing since.
					t.text('adopted');
					t.integer('position').notNullable();
					t.primary(['scenario', 'code']);
				})
				.alterTable('journal', (t) => {
					// Changes that were saved together.
					t.text('batch').notNullable().defaultTo('');
					t.index(['scenario', 'batch'], 'journal_batch');
				})
				.alterTable('scenario', (t) => {
					t.text('folder').notNullable().defaultTo('');
					t.text('visibility').notNullable().defaultTo('all');
					// E-mails, separated by ";".
					t.text('people').notNullable().defaultTo('');
					t.text('owner').notNullable().defaultTo('');
					t.text('deleted');
				});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '004_notes',
		async up(db) {
			await db.schema
				.createTable('note', (t) => {
					t.increments('id');
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					// The cell, as the journal names it.
					t.text('subject').notNullable();
					// The note that this one answers.
					t.integer('answers');
					t.text('at').notNullable();
					t.text('user').notNullable();
					t.text('text').notNullable();
					t.index(['scenario', 'subject'], 'note_subject');
				})
				.createTable('item', (t) => {
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('subject').notNullable();
					t.integer('position').notNullable();
					t.text('description').notNullable();
					t.float('quantity');
					t.float('rate');
					t.float('amount').notNullable();
					t.primary(['scenario', 'subject', 'position']);
				})
				.createTable('attachment', (t) => {
					t.increments('id');
					t.text('scenario')
						.notNullable()
						.references('scenario.code')
						.onDelete('CASCADE')
						.deferrable('deferred');
					t.text('subject').notNullable();
					t.text('at').notNullable();
					t.text('user').notNullable();
					t.text('name').notNullable();
					t.integer('size').notNullable();
					t.binary('content').notNullable();
					t.index(['scenario', 'subject'], 'attachment_subject');
				})
				.createTable('preference', (t) => {
					t.text('user').notNullable();
					t.text('name').notNullable();
					t.text('value').notNullable();
					t.primary(['user', 'name']);
				});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '005_combinations',
		async up(db) {
			await db.schema.createTable('combination_rule', (t) => {
				t.text('code').primary();
				// JSON: the rule without its code.
				t.text('content').notNullable();
				t.integer('position').notNullable();
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '006_targets',
		async up(db) {
			await db.schema.alterTable('scenario', (t) => {
				t.text('target');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '007_profiles',
		async up(db) {
			await db.schema.createTable('profile', (t) => {
				t.text('code').primary();
				t.text('name').notNullable();
				// JSON: one weight a period of the year.
				t.text('weights').notNullable();
				t.integer('position').notNullable();
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '008_non_cash_accounts',
		async up(db) {
			await db.schema.alterTable('account', (t) => {
				t.boolean('nonCash').notNullable().defaultTo(false);
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '009_scenario_names',
		async up(db) {
			// To refuse a name that a hidden scenario has would tell of it: two that nobody sees together may share one.
			await db.schema.alterTable('scenario', (t) => {
				t.dropUnique(['name']);
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '010_opened_rows',
		async up(db) {
			await db.schema.createTable('opened', (t) => {
				// A hash of the content, by which an address names it.
				t.text('id').primary();
				// JSON: keys of opened rows.
				t.text('keys').notNullable();
				t.integer('used').notNullable();
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '011_accounts_block',
		up: renameLedgerBlock,
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '012_calendar',
		async up(db) {
			await db.schema.alterTable('company', (t) => {
				// JSON: the kind of calendar, and what it is made from.
				t.text('calendar').notNullable().defaultTo('');
			});
			for (const { fiscal_start } of await db('company').select('fiscal_start'))
				await db('company').update({
					calendar: JSON.stringify({ kind: 'months', fiscalStart: fiscal_start, dayCount: 'actual' })
				});
			await db.schema.alterTable('company', (t) => {
				t.dropColumn('fiscal_start');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '013_later_years',
		async up(db) {
			await db.schema.alterTable('scenario', (t) => {
				// From which fiscal year on periods are coarser than months; empty where they never are.
				t.text('later_years').notNullable().defaultTo('');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '014_ledger_months',
		async up(db) {
			await db.schema
				.createTable('ledger_key', (t) => {
					t.integer('id').primary();
					t.text('ledger_account').notNullable();
					t.text('department').notNullable();
					t.text('tags').notNullable();
					t.unique(['ledger_account', 'department', 'tags']);
				})
				.createTable('ledger_month', (t) => {
					t.integer('period').primary();
					// Of each key that the period has, its id (32 bits) and what its entries come to (a double).
					t.binary('keys').notNullable();
					t.binary('amounts').notNullable();
				})
				.dropTable('ledger_total');
			await sumLedgerMonths(db);
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '015_people',
		async up(db) {
			await db.schema.alterTable('user', (t) => {
				// Who is disabled cannot sign in, and is kept for what they have done.
				t.integer('disabled').notNullable().defaultTo(0);
			});
			await db.schema
				.createTable('entry_link', (t) => {
					// Of a link that lets somebody set their password, once: its hash alone.
					t.text('token_hash').primary();
					t.text('email').notNullable().unique().references('user.email').onDelete('CASCADE');
					t.integer('expires_at').notNullable();
				})
				.createTable('mail', (t) => {
					t.increments('id');
					t.text('at').notNullable();
					t.text('to').notNullable();
					t.text('subject').notNullable();
					t.text('body').notNullable();
					// Why it was not sent; null where it was, or where there is no mail server.
					t.text('failure');
					t.integer('sent').notNullable().defaultTo(0);
				});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '016_access_tokens',
		async up(db) {
			await db.schema.createTable('access_token', (t) => {
				t.increments('id');
				// Of what a program shows: its hash alone.
				t.text('token_hash').notNullable().unique();
				t.text('email').notNullable().references('user.email').onDelete('CASCADE');
				t.text('name').notNullable();
				t.text('scope').notNullable();
				t.integer('made_at').notNullable();
				t.integer('expires_at').notNullable();
				t.integer('used_at');
				t.index(['email'], 'access_token_user');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '017_currencies',
		async up(db) {
			const company = await db('company').first('currency');
			await db.schema.alterTable('entity', (t) => {
				t.text('currency')
					.notNullable()
					.defaultTo(company?.currency ?? '');
			});
			await db.schema.alterTable('account', (t) => {
				// The one equity account in which translation differences stand.
				t.boolean('translation').notNullable().defaultTo(false);
			});
			await db.schema
				.createTable('rate_set', (t) => {
					t.text('code').primary();
					t.text('name').notNullable();
					t.integer('actuals').notNullable().defaultTo(0);
					t.integer('position').notNullable();
				})
				.createTable('rate', (t) => {
					t.text('rate_set').notNullable().references('rate_set.code').onDelete('CASCADE');
					t.text('currency').notNullable();
					t.text('kind').notNullable();
					t.integer('first').notNullable();
					// A double a period, NaN where none is known.
					t.binary('data').notNullable();
					t.primary(['rate_set', 'currency', 'kind']);
				});
			await db.schema.alterTable('scenario', (t) => {
				// A reference added to a table that is there makes SQLite write it anew, and drop what hangs on it.
				t.text('rates');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '018_cash_flow',
		async up(db) {
			await db.schema.alterTable('account', (t) => {
				// Where it stands in the cash flow; what it was before, never paid or paid, is the one kind “none”.
				t.text('cash_flow');
			});
			await db('account').where({ nonCash: 1 }).update({ cash_flow: 'none' });
			// Not by the schema's own means: those write the table anew, and drop what hangs on it.
			await db.raw('alter table ?? drop column ??', ['account', 'nonCash']);
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '019_modules',
		async up(db) {
			await db.schema.alterTable('company', (t) => {
				// JSON: the parts that are switched off.
				t.text('modules_off').notNullable().defaultTo('[]');
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '020_retired_members',
		async up(db) {
			await db.schema.alterTable('member', (t) => {
				// Kept with what it holds, and offered no more.
				t.boolean('retired').notNullable().defaultTo(false);
			});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '021_schedules',
		async up(db) {
			const scenario = (t: Knex.CreateTableBuilder) =>
				t
					.text('scenario')
					.notNullable()
					.references('scenario.code')
					.onDelete('CASCADE')
					.deferrable('deferred');
			await db.schema
				.createTable('schedule', (t) => {
					t.text('code').primary();
					t.integer('position').notNullable();
				})
				.createTable('scenario_schedule', (t) => {
					scenario(t);
					t.text('schedule').notNullable().references('schedule.code').deferrable('deferred');
					t.text('definition').notNullable().references('definition.id').deferrable('deferred');
					t.primary(['scenario', 'schedule']);
				})
				.createTable('schedule_row', (t) => {
					scenario(t);
					t.text('schedule').notNullable().references('schedule.code').deferrable('deferred');
					t.text('id').notNullable();
					t.integer('position').notNullable();
					// JSON: what stands in its columns, and the departments beside its own.
					t.text('content').notNullable();
					t.primary(['scenario', 'schedule', 'id']);
				});
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	},
	{
		name: '022_individual_pay',
		async up(db) {
			await db.schema.alterTable('user', (t) => {
				// Sees what single people earn.
				t.integer('pay').notNullable().defaultTo(0);
			});
			// Who saw rows of schedules until now goes on to do so.
			await db('user').where({ role: 'analyst' }).update({ pay: 1 });
		},
		async down() {
			throw new Error('Restore a backup instead.');
		}
	}
];
