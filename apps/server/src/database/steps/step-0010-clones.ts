import { Migration } from '@mikro-orm/migrations'

/** Whose identity a guest has, versions of templates, batches of copies followed to the last, the policies about them; what a move moved. */
export class Step0010Clones extends Migration {
  override up(): void {
    this.#identities()
    this.addSql(`create table "template" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "version" text not null,
        "supersedes_id" uuid,
        "supersedes_name" text,
        "withdrawn_on" text,
        "withdrawn_for" text,
        "patched_on" text,
        "installed" text,
        "name_removed" text not null,
        "identity_removed" text not null,
        "host_keys_removed" text not null,
        "address_removed" text not null,
        "activation_removed" text not null,
        "history_removed" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "batch" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "template_id" uuid,
        "template_name" text,
        "version" text,
        "school" text not null,
        "item_id" uuid,
        "item_title" text,
        "owner_id" uuid,
        "started_at" text not null,
        "ended_at" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "copy" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "batch_id" uuid not null,
        "position" integer not null,
        "guest_id" uuid,
        "guest_name" text,
        "made" jsonb not null,
        "state" text not null,
        "begun_at" text,
        "ended_at" text,
        "reason" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`alter table "sheet" add column "copy_id" uuid`)
    const references: readonly [table: string, column: string, to: string][] = [
      ['guest', 'identity_from_id', 'guest'],
      ['template', 'guest_id', 'guest'],
      ['template', 'supersedes_id', 'guest'],
      ['batch', 'template_id', 'guest'],
      ['batch', 'item_id', 'item'],
      ['batch', 'owner_id', 'person'],
      ['copy', 'batch_id', 'batch'],
      ['copy', 'guest_id', 'guest'],
      ['sheet', 'copy_id', 'copy'],
    ]
    for (const [table, column, to] of references) {
      this.addSql(
        `alter table "${table}" add constraint "${table}_${column}_fk" foreign key ("estate_id", "${column}") references "${to}" ("estate_id", "id") deferrable initially deferred`,
      )
      this.addSql(`create index "${table}_${column}_idx" on "${table}" ("estate_id", "${column}")`)
    }
    this.addSql(
      `alter table "template" add constraint "template_guest_id_key" unique ("estate_id", "guest_id") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "copy" add constraint "copy_batch_id_position_key" unique ("estate_id", "batch_id", "position") deferrable initially deferred`,
    )
    this.addSql(`alter table "migration" add column "moved_bytes" bigint`)
    const policies: readonly [column: string, type: string, first: string][] = [
      ['template_patch_days', 'integer', '90'],
      ['template_versions_behind', 'integer', '2'],
      ['clone_school', 'text', `'template generalised'`],
      ['copies_at_once', 'integer', '2'],
      ['boots_at_once', 'integer', '4'],
    ]
    for (const [column, type, first] of policies) {
      this.addSql(`alter table "policy" add column "${column}" ${type} not null default ${first}`)
      this.addSql(`alter table "policy" alter column "${column}" drop default`)
    }
  }

  /** A copy that was not generalised has the identity of what it was copied from, as upgrades of records say it too. */
  #identities(): void {
    this.addSql(`alter table "guest" add column "identity" text not null default 'its own'`)
    this.addSql(`alter table "guest" alter column "identity" drop default`)
    this.addSql(`alter table "guest" add column "identity_from_id" uuid`)
    this.addSql(`alter table "guest" add column "identity_from_name" text`)
    this.addSql(`alter table "guest" add column "identity_key" text`)
    this.addSql(`alter table "guest" add column "cloned_version" text`)
    this.addSql(
      `with recursive "line" as (
        select "estate_id", "id", "cloned_from_id" as "root" from "guest" where not "is_generalised" and "cloned_from_id" is not null
        union
        select "line"."estate_id", "line"."id", "above"."cloned_from_id" from "line"
        join "guest" "above" on "above"."estate_id" = "line"."estate_id" and "above"."id" = "line"."root"
        where not "above"."is_generalised" and "above"."cloned_from_id" is not null
      ), "first" as (
        select distinct on ("line"."estate_id", "line"."id") "line".* from "line"
        join "guest" "above" on "above"."estate_id" = "line"."estate_id" and "above"."id" = "line"."root"
        order by "line"."estate_id", "line"."id", ("above"."is_generalised" or "above"."cloned_from_id" is null) desc
      )
      update "guest" set "identity" = 'copied', "identity_from_id" = "guest"."cloned_from_id", "identity_key" = "first"."root"::text
      from "first" where "first"."estate_id" = "guest"."estate_id" and "first"."id" = "guest"."id"`,
    )
    // What was updated is checked now: a table with checks pending is not altered.
    this.addSql(`set constraints all immediate`)
    this.addSql(`alter table "guest" drop column "is_generalised"`)
    this.addSql(`set constraints all deferred`)
  }
}
