import { Migration } from '@mikro-orm/migrations'

/**
 * Hosts in full: memory modules, drives, arrays, ports, images, build sheets, what was found, and what platforms ask of
 * a host. The last table holds what collectors and management controllers sent; it is no part of the record.
 */
export class Step0002Hosts extends Migration {
  override up(): void {
    this.addSql(`create table "image" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "version" text,
        "platform_id" uuid,
        "size_bytes" bigint not null,
        "sha256" text,
        "store_id" uuid,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "module" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "slot" integer not null,
        "size_mib" integer not null,
        "speed_m_ts" integer,
        "state" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "array" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "name" text not null,
        "level" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "drive" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "position" integer not null,
        "label_bytes" bigint not null,
        "kind" text not null,
        "model" text,
        "serial" text,
        "use" text not null,
        "array_id" uuid,
        "controller" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "port" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "name" text not null,
        "mac" text,
        "speed_mbps" integer not null,
        "medium" text not null,
        "cable" text not null,
        "role" text,
        "driver" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "sheet" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "started_at" text not null,
        "resumed_at" text,
        "finished_at" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "step" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "sheet_id" uuid not null,
        "step" text not null,
        "state" text not null,
        "person_id" uuid not null,
        "at" text not null,
        "minutes" double precision,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "deviation" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "about" text not null,
        "planned" text not null,
        "found" text not null,
        "source" text not null,
        "seen_at" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`alter table "platform" add column "min_level" text not null default 'x86-64-v2'`)
    this.addSql(`alter table "platform" alter column "min_level" drop default`)
    this.addSql(`alter table "platform" add column "required_flags" text`)
    this.addSql(`alter table "platform" add column "min_memory_mib" integer not null default 4096`)
    this.addSql(`alter table "platform" alter column "min_memory_mib" drop default`)
    this.addSql(`alter table "platform" add column "min_drive_bytes" bigint not null default 32000000000`)
    this.addSql(`alter table "platform" alter column "min_drive_bytes" drop default`)
    this.addSql(`alter table "platform" add column "controllers" text`)
    this.addSql(`alter table "platform" add column "port_drivers" text`)
    this.addSql(`alter table "platform" add column "management_url" text`)
    this.addSql(`alter table "platform" add column "trial_days" integer`)
    this.addSql(`alter table "host" add column "processor_model" text`)
    this.addSql(`alter table "host" add column "clock_m_hz" integer`)
    this.addSql(`alter table "host" add column "cpu_flags" text`)
    this.addSql(`alter table "host" add column "memory_slots" integer`)
    this.addSql(`alter table "host" add column "firmware" text`)
    this.addSql(`alter table "host" add column "secure_boot" text`)
    this.addSql(`alter table "host" add column "controllers" text`)
    this.addSql(`alter table "host" add column "mounting" text not null default 'rack'`)
    this.addSql(`alter table "host" alter column "mounting" drop default`)
    this.addSql(`alter table "host" add column "draw_watts" integer`)
    this.addSql(`alter table "host" add column "power_supplies" integer not null default 1`)
    this.addSql(`alter table "host" alter column "power_supplies" drop default`)
    this.addSql(`alter table "host" add column "circuit" text`)
    this.addSql(`alter table "host" add column "circuit_volts" integer`)
    this.addSql(`alter table "host" add column "circuit_amps" integer`)
    this.addSql(`alter table "host" add column "image_id" uuid`)
    this.addSql(`alter table "host" add column "stick_bytes" bigint`)
    this.addSql(`alter table "host" add column "stick_may_be_erased" text`)
    this.addSql(`alter table "host" add column "at_hand" text`)
    this.addSql(`alter table "store" add column "array_id" uuid`)
    this.addSql(`alter table "policy" add column "reminder_days" integer not null default 30`)
    this.addSql(`alter table "policy" alter column "reminder_days" drop default`)
    this.addSql(
      `alter table "image" add constraint "image_platform_id_fk" foreign key ("estate_id", "platform_id") references "platform" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "image_platform_id_idx" on "image" ("estate_id", "platform_id")`)
    this.addSql(
      `alter table "image" add constraint "image_store_id_fk" foreign key ("estate_id", "store_id") references "store" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "image_store_id_idx" on "image" ("estate_id", "store_id")`)
    this.addSql(`alter table "image" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "image" add constraint "image_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "module" add constraint "module_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "module_host_id_idx" on "module" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "module" add constraint "module_host_id_slot_key" unique ("estate_id", "host_id", "slot") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "array" add constraint "array_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "array_host_id_idx" on "array" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "array" add constraint "array_host_id_name_key" unique ("estate_id", "host_id", "name") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "drive" add constraint "drive_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "drive_host_id_idx" on "drive" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "drive" add constraint "drive_array_id_fk" foreign key ("estate_id", "array_id") references "array" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "drive_array_id_idx" on "drive" ("estate_id", "array_id")`)
    this.addSql(
      `alter table "drive" add constraint "drive_host_id_position_key" unique ("estate_id", "host_id", "position") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "port" add constraint "port_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "port_host_id_idx" on "port" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "port" add constraint "port_host_id_name_key" unique ("estate_id", "host_id", "name") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "sheet" add constraint "sheet_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "sheet_host_id_idx" on "sheet" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "step" add constraint "step_sheet_id_fk" foreign key ("estate_id", "sheet_id") references "sheet" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "step_sheet_id_idx" on "step" ("estate_id", "sheet_id")`)
    this.addSql(
      `alter table "step" add constraint "step_person_id_fk" foreign key ("estate_id", "person_id") references "person" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "step_person_id_idx" on "step" ("estate_id", "person_id")`)
    this.addSql(
      `alter table "step" add constraint "step_sheet_id_step_key" unique ("estate_id", "sheet_id", "step") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "deviation" add constraint "deviation_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "deviation_host_id_idx" on "deviation" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "deviation" add constraint "deviation_host_id_about_key" unique ("estate_id", "host_id", "about") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "host" add constraint "host_image_id_fk" foreign key ("estate_id", "image_id") references "image" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "host_image_id_idx" on "host" ("estate_id", "image_id")`)
    this.addSql(
      `alter table "store" add constraint "store_array_id_fk" foreign key ("estate_id", "array_id") references "array" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "store_array_id_idx" on "store" ("estate_id", "array_id")`)
    this.addSql(`create table "collection" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "code_hash" text not null unique,
        "expires_at" timestamptz not null,
        "received_at" timestamptz,
        "text" text,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create index "collection_host_id_idx" on "collection" ("estate_id", "host_id")`)
  }
}
