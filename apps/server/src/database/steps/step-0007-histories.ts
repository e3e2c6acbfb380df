import { Migration } from '@mikro-orm/migrations'

/** MACs that nobody has asked for yet, histories that outlive what they tell of, sheets of more than hosts and guests, attempts. */
export class Step0007Histories extends Migration {
  override up(): void {
    this.addSql(`alter table "adapter" alter column "mac" drop not null`)
    this.addSql(`alter table "migration" alter column "guest_id" drop not null`)
    this.addSql(`alter table "migration" alter column "to_host_id" drop not null`)
    for (const column of ['guest_name', 'from_host_name', 'to_host_name'])
      this.addSql(`alter table "migration" add column "${column}" text`)
    this.addSql(`alter table "sheet" add column "migration_id" uuid`)
    this.addSql(
      `alter table "sheet" add constraint "sheet_migration_id_fk" foreign key ("estate_id", "migration_id") references "migration" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "sheet_migration_id_idx" on "sheet" ("estate_id", "migration_id")`)
    this.addSql(`alter table "sheet" add column "work" text not null default 'set-up'`)
    this.addSql(`alter table "sheet" alter column "work" drop default`)
    this.addSql(`alter table "step" add column "title" text`)
    this.addSql(`alter table "step" add column "after" text`)
    this.addSql(`alter table "step" add column "attempts" integer not null default 1`)
    this.addSql(`alter table "step" alter column "attempts" drop default`)
  }
}
