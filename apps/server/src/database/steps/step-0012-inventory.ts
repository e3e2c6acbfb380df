import { Migration } from '@mikro-orm/migrations'

/** What an inventory says of hosts and guests; entries that people write; what a change is about, beyond what it touched. */
export class Step0012Inventory extends Migration {
  override up(): void {
    const columns: readonly [table: string, column: string, type: string][] = [
      ['host', 'serial', 'text'],
      ['host', 'asset_tag', 'text'],
      ['host', 'rack', 'text'],
      ['host', 'height_unit', 'integer'],
      ['host', 'purchased_on', 'text'],
      ['host', 'warranty_ends_on', 'text'],
      ['host', 'controller_address', 'text'],
      ['guest', 'owner', 'text'],
      ['guest', 'contact', 'text'],
      ['guest', 'criticality', 'text'],
      ['guest', 'patched_on', 'text'],
    ]
    for (const [table, column, type] of columns) this.addSql(`alter table "${table}" add column "${column}" ${type}`)
    this.addSql(`alter table "attachment" add column "foreign_macs" text not null default 'passed'`)
    this.addSql(`alter table "attachment" alter column "foreign_macs" drop default`)
    this.addSql(`create table "entry" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid,
        "guest_id" uuid,
        "host_name" text,
        "guest_name" text,
        "work" text not null,
        "at" text not null,
        "minutes" double precision,
        "people" text,
        "text" text not null,
        primary key ("estate_id", "id")
      )`)
    for (const to of ['host', 'guest']) {
      this.addSql(
        `alter table "entry" add constraint "entry_${to}_id_fk" foreign key ("estate_id", "${to}_id") references "${to}" ("estate_id", "id") deferrable initially deferred`,
      )
      this.addSql(`create index "entry_${to}_id_idx" on "entry" ("estate_id", "${to}_id")`)
    }
    this.addSql(`alter table "change" add column "about" uuid[] not null default '{}'`)
    // Of what was logged before: what it touched, and the hosts and guests that its records named.
    this.addSql(`update "change" set "about" = array(
        select distinct id from (
          select unnest("touched") as id
          union all
          select (named #>> '{}')::uuid from jsonb_path_query("difference"::jsonb, '$.**.hostId ? (@.type() == "string")') as named
          union all
          select (named #>> '{}')::uuid from jsonb_path_query("difference"::jsonb, '$.**.guestId ? (@.type() == "string")') as named
        ) as ids
      )`)
    this.addSql(`alter table "change" alter column "about" drop default`)
    this.addSql(`create index "change_about_idx" on "change" using gin ("about")`)
  }
}
