import { Migration } from '@mikro-orm/migrations'

/** Moves followed from begin to close: their states and times, what they leave, readings of their progress; machines outside any host in depth. */
export class Step0011Moves extends Migration {
  override up(): void {
    const columns: readonly [column: string, type: string][] = [
      ['becomes_id', 'uuid'],
      ['becomes_name', 'text'],
      ['did', 'jsonb'],
      ['item_id', 'uuid'],
      ['item_title', 'text'],
      ['previous_id', 'uuid'],
      ['owner_id', 'uuid'],
      ['copying_at', 'text'],
      ['cut_over_at', 'text'],
      ['verified_at', 'text'],
      ['soak_days', 'integer'],
      ['decide_by', 'text'],
      ['otherwise', 'text'],
      ['downtime_minutes', 'double precision'],
      ['estimate_seconds', 'double precision'],
      ['estimate_late_seconds', 'double precision'],
      ['total_bytes', 'bigint'],
      ['copy_seconds', 'double precision'],
      ['was_off_minutes', 'double precision'],
      ['went_wrong', 'text'],
      ['next_time', 'text'],
      ['reason', 'text'],
      ['progress_at', 'text'],
    ]
    for (const [column, type] of columns) this.addSql(`alter table "migration" add column "${column}" ${type}`)
    this.addSql(`alter table "migration" add column "made" jsonb not null default '[]'`)
    this.addSql(`alter table "migration" alter column "made" drop default`)
    this.addSql(
      `update "migration" set "state" = case "state" when 'under way' then 'copying' when 'done' then 'closed' when 'given up' then 'cancelled' else "state" end`,
    )
    // What was updated is checked now: a table with checks pending is not altered.
    this.addSql(`set constraints all immediate`)
    this.#tables()
    this.addSql(`alter table "adapter" add column "device_name" text`)
    const policies: readonly [column: string, first: string][] = [
      ['move_backup_days', '2'],
      ['transfers_per_host', '2'],
      ['transfers_per_link', '2'],
    ]
    for (const [column, first] of policies) {
      this.addSql(`alter table "policy" add column "${column}" integer not null default ${first}`)
      this.addSql(`alter table "policy" alter column "${column}" drop default`)
    }
    const references: readonly [table: string, column: string, to: string][] = [
      ['migration', 'becomes_id', 'guest'],
      ['migration', 'item_id', 'item'],
      ['migration', 'previous_id', 'migration'],
      ['migration', 'owner_id', 'person'],
      ['leftover', 'migration_id', 'migration'],
      ['leftover', 'guest_id', 'guest'],
      ['leftover', 'store_id', 'store'],
      ['hardware', 'guest_id', 'guest'],
      ['volume', 'disk_id', 'disk'],
    ]
    for (const [table, column, to] of references) {
      this.addSql(
        `alter table "${table}" add constraint "${table}_${column}_fk" foreign key ("estate_id", "${column}") references "${to}" ("estate_id", "id") deferrable initially deferred`,
      )
      this.addSql(`create index "${table}_${column}_idx" on "${table}" ("estate_id", "${column}")`)
    }
    this.addSql(
      `alter table "hardware" add constraint "hardware_guest_id_key" unique ("estate_id", "guest_id") deferrable initially deferred`,
    )
    this.addSql(`set constraints all deferred`)
  }

  #tables(): void {
    const estate = `"estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade, "id" uuid not null`
    this.addSql(`create table "leftover" (
        ${estate},
        "migration_id" uuid not null,
        "guest_id" uuid,
        "store_id" uuid,
        "store_name" text,
        "size_bytes" bigint not null,
        "used_bytes" bigint not null,
        "until" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "hardware" (
        ${estate},
        "guest_id" uuid not null,
        "serial" text,
        "partition_table" text not null,
        "sector_size" text not null,
        "controller" text not null,
        "clock" text not null,
        "services" text,
        "licences" text,
        "devices" text,
        "encryption" text not null,
        "recovery_key_at" text,
        "data" text not null,
        "drivers" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "volume" (
        ${estate},
        "disk_id" uuid not null,
        "name" text not null,
        "file_system" text,
        "size_bytes" bigint not null,
        "used_bytes" bigint,
        "is_taken" boolean not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    // Names are looked up without case, as everywhere; see keys of the kind.
    this.addSql(
      `alter table "volume" add constraint "volume_disk_id_name_key" unique ("estate_id", "disk_id", "name") deferrable initially deferred`,
    )
    // Readings are no records: kept by move, as observations are by subject.
    this.addSql(`create table "transfer_sample" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "migration_id" uuid not null,
        "at" bigint not null,
        "bytes" bigint not null,
        primary key ("estate_id", "migration_id", "at")
      )`)
  }
}
