import { Migration } from '@mikro-orm/migrations'

/** Plans and their items, kept in the estate; whether a plan has to be agreed to; findings that somebody accepts. */
export class Step0008Plans extends Migration {
  override up(): void {
    this.addSql(`create table "plan" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "state" text not null,
        "owner_id" uuid,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "item" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "plan_id" uuid not null,
        "order" text not null,
        "kind" text not null,
        "title" text not null,
        "commands" jsonb not null,
        "expects" jsonb,
        "after_ids" jsonb not null,
        "person_id" uuid,
        "minutes" double precision,
        "state" text not null,
        "begun_at" text,
        "done_by_id" uuid,
        "done_at" text,
        "done_revision" bigint,
        "minutes_taken" double precision,
        "reason" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "acceptance" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "finding" text not null,
        "sentence" text not null,
        "evidence" text not null,
        "value" double precision,
        "reason" text not null,
        "until" text not null,
        "person_id" uuid not null,
        "accepted_at" text not null,
        primary key ("estate_id", "id")
      )`)
    const references: readonly [table: string, column: string, to: string][] = [
      ['plan', 'owner_id', 'person'],
      ['item', 'plan_id', 'plan'],
      ['item', 'person_id', 'person'],
      ['item', 'done_by_id', 'person'],
      ['acceptance', 'person_id', 'person'],
    ]
    for (const [table, column, to] of references) {
      this.addSql(
        `alter table "${table}" add constraint "${table}_${column}_fk" foreign key ("estate_id", "${column}") references "${to}" ("estate_id", "id") deferrable initially deferred`,
      )
      this.addSql(`create index "${table}_${column}_idx" on "${table}" ("estate_id", "${column}")`)
    }
    this.addSql(`alter table "plan" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "plan" add constraint "plan_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "acceptance" add constraint "acceptance_finding_key" unique ("estate_id", "finding") deferrable initially deferred`,
    )
    this.addSql(`alter table "policy" add column "carry_out_agreed_only" boolean not null default false`)
    this.addSql(`alter table "policy" alter column "carry_out_agreed_only" drop default`)
  }
}
