import { Migration } from '@mikro-orm/migrations'

/**
 * Guests in full: the systems they run, workload profiles, snapshots, what waits for what; devices, firmware, install media;
 * sheets and deviations of guests.
 */
export class Step0004Guests extends Migration {
  override up(): void {
    this.addSql(`create table "system" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "dataset_id" text,
        "family" text not null,
        "source" text not null,
        "min_vcpu" integer,
        "min_memory_mib" integer,
        "min_storage_bytes" bigint,
        "good_vcpu" integer,
        "good_memory_mib" integer,
        "good_storage_bytes" bigint,
        "firmware" text not null,
        "paravirtual_disk" text not null,
        "paravirtual_net" text not null,
        "emulated_net" text not null,
        "released_on" text,
        "supported_until" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "workload" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "vcpu" double precision not null,
        "steady_share" double precision not null,
        "memory_mib" integer not null,
        "system_bytes" bigint not null,
        "data_bytes" bigint not null,
        "growth_bytes_per_month" double precision not null,
        "adapters" integer not null,
        "latency" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "snapshot" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "name" text not null,
        "taken_at" text not null,
        "size_bytes" bigint not null,
        "parent_id" uuid,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "dependency" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "needs_id" uuid not null,
        "wait_seconds" integer not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`alter table "policy" add column "size_headroom_percent" double precision not null default 25`)
    this.addSql(`alter table "policy" alter column "size_headroom_percent" drop default`)
    this.addSql(`alter table "policy" add column "snapshot_max_days" integer not null default 3`)
    this.addSql(`alter table "policy" alter column "snapshot_max_days" drop default`)
    this.addSql(`alter table "policy" add column "snapshot_max_depth" integer not null default 2`)
    this.addSql(`alter table "policy" alter column "snapshot_max_depth" drop default`)
    this.addSql(`alter table "policy" add column "store_full_days" integer not null default 60`)
    this.addSql(`alter table "policy" alter column "store_full_days" drop default`)
    this.addSql(`alter table "platform" add column "guest_disks_max" integer not null default 64`)
    this.addSql(`alter table "platform" alter column "guest_disks_max" drop default`)
    this.addSql(`alter table "platform" add column "guest_adapters_max" integer not null default 16`)
    this.addSql(`alter table "platform" alter column "guest_adapters_max" drop default`)
    this.addSql(`alter table "platform" add column "disk_max_bytes" bigint not null default 70368744177664`)
    this.addSql(`alter table "platform" alter column "disk_max_bytes" drop default`)
    this.addSql(`alter table "image" add column "system_id" uuid`)
    this.addSql(`alter table "image" add column "installer" text`)
    this.addSql(`alter table "image" add column "uploaded_on" text`)
    this.addSql(`alter table "guest" add column "verified_at" text`)
    this.addSql(`alter table "guest" add column "system_id" uuid`)
    this.addSql(`alter table "guest" add column "workload" text`)
    this.addSql(`alter table "guest" add column "sockets" integer not null default 1`)
    this.addSql(`alter table "guest" alter column "sockets" drop default`)
    this.addSql(`alter table "guest" add column "processor_mode" text not null default 'host'`)
    this.addSql(`alter table "guest" alter column "processor_mode" drop default`)
    this.addSql(`alter table "guest" add column "memory_min_mib" integer`)
    this.addSql(`alter table "guest" add column "secure_boot" boolean not null default false`)
    this.addSql(`alter table "guest" alter column "secure_boot" drop default`)
    this.addSql(`alter table "guest" add column "trusted_module" boolean not null default false`)
    this.addSql(`alter table "guest" alter column "trusted_module" drop default`)
    this.addSql(`alter table "guest" add column "machine_type" text not null default 'PCIe'`)
    this.addSql(`alter table "guest" alter column "machine_type" drop default`)
    this.addSql(`alter table "guest" add column "medium_id" uuid`)
    this.addSql(`alter table "guest" add column "medium_connected" boolean not null default true`)
    this.addSql(`alter table "guest" alter column "medium_connected" drop default`)
    this.addSql(`alter table "guest" add column "boot_first" text not null default 'disk'`)
    this.addSql(`alter table "guest" alter column "boot_first" drop default`)
    this.addSql(`alter table "guest" add column "installer" text`)
    this.addSql(`alter table "guest" add column "packages" text`)
    this.addSql(`alter table "guest" add column "locale" text`)
    this.addSql(`alter table "guest" add column "group" text`)
    this.addSql(`alter table "guest" add column "apart_from_id" uuid`)
    this.addSql(`alter table "disk" add column "bus" text not null default 'paravirtual'`)
    this.addSql(`alter table "disk" alter column "bus" drop default`)
    this.addSql(`alter table "disk" add column "cache" text not null default 'none'`)
    this.addSql(`alter table "disk" alter column "cache" drop default`)
    this.addSql(`alter table "disk" add column "boot_order" integer`)
    this.addSql(`alter table "disk" add column "expected_bytes" bigint`)
    this.addSql(`alter table "disk" add column "growth_bytes_per_month" double precision`)
    this.addSql(`alter table "sheet" add column "guest_id" uuid`)
    this.addSql(`alter table "store" add column "served_by_id" uuid`)
    this.addSql(`alter table "deviation" add column "guest_id" uuid`)
    // A guest named its system by a text; each such text becomes a system of the estate, to be filled in.
    this
      .addSql(`insert into "system" ("estate_id", "id", "name", "family", "source", "firmware", "paravirtual_disk", "paravirtual_net", "emulated_net", "note")
        select "estate_id", gen_random_uuid(), min("system"), 'linux', 'recorded by hand', 'not known', 'not known', 'not known', 'emulated', ''
        from "guest" where "system" is not null group by "estate_id", lower("system")`)
    this.addSql(`update "guest" set "system_id" = s."id" from "system" s
        where s."estate_id" = "guest"."estate_id" and lower(s."name") = lower("guest"."system")`)
    this.addSql(`alter table "guest" drop column "system"`)
    this.addSql(`alter table "system" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "system" add constraint "system_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(`alter table "workload" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "workload" add constraint "workload_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "snapshot" add constraint "snapshot_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "snapshot_guest_id_idx" on "snapshot" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "snapshot" add constraint "snapshot_parent_id_fk" foreign key ("estate_id", "parent_id") references "snapshot" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "snapshot_parent_id_idx" on "snapshot" ("estate_id", "parent_id")`)
    this.addSql(
      `alter table "snapshot" add constraint "snapshot_guest_id_name_key" unique ("estate_id", "guest_id", "name") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "dependency" add constraint "dependency_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "dependency_guest_id_idx" on "dependency" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "dependency" add constraint "dependency_needs_id_fk" foreign key ("estate_id", "needs_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "dependency_needs_id_idx" on "dependency" ("estate_id", "needs_id")`)
    this.addSql(
      `alter table "dependency" add constraint "dependency_guest_id_needs_id_key" unique ("estate_id", "guest_id", "needs_id") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "image" add constraint "image_system_id_fk" foreign key ("estate_id", "system_id") references "system" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "image_system_id_idx" on "image" ("estate_id", "system_id")`)
    this.addSql(
      `alter table "guest" add constraint "guest_system_id_fk" foreign key ("estate_id", "system_id") references "system" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_system_id_idx" on "guest" ("estate_id", "system_id")`)
    this.addSql(
      `alter table "guest" add constraint "guest_medium_id_fk" foreign key ("estate_id", "medium_id") references "image" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_medium_id_idx" on "guest" ("estate_id", "medium_id")`)
    this.addSql(
      `alter table "guest" add constraint "guest_apart_from_id_fk" foreign key ("estate_id", "apart_from_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_apart_from_id_idx" on "guest" ("estate_id", "apart_from_id")`)
    this.addSql(
      `alter table "sheet" add constraint "sheet_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "sheet_guest_id_idx" on "sheet" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "deviation" add constraint "deviation_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "deviation_guest_id_idx" on "deviation" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "store" add constraint "store_served_by_id_fk" foreign key ("estate_id", "served_by_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "store_served_by_id_idx" on "store" ("estate_id", "served_by_id")`)
    this.addSql(`alter table "sheet" alter column "host_id" drop not null`)
    this.addSql(`alter table "deviation" alter column "host_id" drop not null`)
    this.addSql(
      `alter table "deviation" add constraint "deviation_guest_id_about_key" unique ("estate_id", "guest_id", "about") deferrable initially deferred`,
    )
    this.addSql(`alter table "collection" rename column "host_id" to "machine_id"`)
    // What the open dataset of operating systems says, as last read; the same for every estate.
    this.addSql(`create table "catalogue" (
        "name" text not null primary key,
        "version" text not null,
        "systems" integer not null,
        "loaded_at" timestamptz not null
      )`)
    this.addSql(`create table "catalogue_system" (
        "short_id" text not null primary key,
        "name" text not null,
        "words" text not null,
        "released_on" text,
        "values" jsonb not null
      )`)
    // Observations: a row for each subject and day, its samples in arrays side by side. At hourly samples that is a 24th of
    // the rows, and a subject's quarter of a year is 90 rows next to each other.
    this.addSql(`create table "observation_day" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "subject_id" uuid not null,
        "day" date not null,
        "second" integer[] not null,
        "cpu_percent" real[] not null,
        "memory_mib" integer[] not null,
        "disk_bytes" bigint[] not null,
        "disk_last" bigint,
        primary key ("estate_id", "subject_id", "day")
      )`)
    // The sums over 7, 30 and 90 days before a subject's last observation, made again with each new one.
    this.addSql(`create table "observation_summary" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "subject_id" uuid not null,
        "days" integer not null,
        "until" timestamptz not null,
        "values" jsonb not null,
        primary key ("estate_id", "subject_id", "days")
      )`)
    this.addSql(`create table "observer" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "guest_id" uuid not null,
        "key_hash" text not null,
        "made_at" timestamptz not null,
        "last_seen_at" timestamptz,
        primary key ("estate_id", "guest_id")
      )`)
  }
}
