import { Migration } from '@mikro-orm/migrations'

/**
 * One table a kind, the heads and the change log. Foreign keys and unique constraints wait for the end of the
 * transaction, so that a list of commands may swap two names or add two records that refer to each other.
 */
export class Step0001Records extends Migration {
  override up(): void {
    this.addSql(`create table "estate_head" (
        "estate_id" uuid not null primary key,
        "revision" integer not null check ("revision" >= 0),
        "updated_at" timestamptz not null
      )`)
    this.addSql(`create table "change" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "revision" integer not null check ("revision" > 0),
        "at" timestamptz not null,
        "actor_id" uuid not null,
        "actor_name" text not null,
        "commands" jsonb not null,
        "difference" jsonb not null,
        "touched" uuid[] not null,
        "reverts" integer,
        primary key ("estate_id", "revision")
      )`)
    this.addSql(`create index "change_touched_idx" on "change" using gin ("touched")`)
    this.addSql(`create index "change_reverts_idx" on "change" ("estate_id", "reverts") where "reverts" is not null`)
    this.addSql(`create table "estate" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "domain" text,
        "time_zone" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "person" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "kind" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "policy" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "failover_reserve_percent" double precision not null,
        "memory_ceiling" double precision not null,
        "vcpu_per_core_general" double precision not null,
        "vcpu_per_core_steady" double precision not null,
        "vcpu_per_core_lab" double precision not null,
        "store_warn_percent" double precision not null,
        "store_error_percent" double precision not null,
        "thin_promise_max_percent" double precision not null,
        "soak_days" integer not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "platform" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "own_memory_mib" integer not null,
        "guest_overhead_mib" integer not null,
        "guest_overhead_percent" double precision not null,
        "guest_vcpu_max" integer not null,
        "guest_memory_max_mib" integer not null,
        "mac_prefix" text not null,
        "translation" text not null,
        "released_on" text,
        "supported_until" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "host" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "kind" text not null,
        "outer_guest_id" uuid,
        "site" text not null,
        "state" text not null,
        "platform_id" uuid not null,
        "model" text,
        "sockets" integer not null,
        "cores_per_socket" integer not null,
        "threads_per_core" integer not null,
        "memory_mib" integer not null,
        "failover_reserve_mib" integer,
        "management_mac" text,
        "fingerprint" text,
        "trial_ends_on" text,
        "tags" jsonb not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "store" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "kind" text not null,
        "host_id" uuid,
        "site" text,
        "capacity_bytes" bigint not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "network" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "role" text not null,
        "vlan_id" integer,
        "mtu" integer not null,
        "site" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "attachment" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "network_id" uuid not null,
        "kind" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "subnet" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "network_id" uuid not null,
        "prefix" text not null,
        "gateway" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "pool" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "subnet_id" uuid not null,
        "first" text not null,
        "last" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "guest" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "name" text not null,
        "kind" text not null,
        "host_id" uuid,
        "state" text not null,
        "purpose" text,
        "system" text,
        "vcpu" integer not null,
        "latency" text not null,
        "memory_mib" integer not null,
        "firmware" text not null,
        "is_generalised" boolean not null,
        "cloned_from_id" uuid,
        "backup_store_id" uuid,
        "tags" jsonb not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "disk" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "position" integer not null,
        "use" text not null,
        "store_id" uuid,
        "size_bytes" bigint not null,
        "used_bytes" bigint,
        "provisioning" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "adapter" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "position" integer not null,
        "network_id" uuid,
        "mac" text not null,
        "model" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "address" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "subnet_id" uuid not null,
        "ip" text not null,
        "kind" text not null,
        "adapter_id" uuid,
        "host_id" uuid,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "migration" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid not null,
        "from_host_id" uuid,
        "to_host_id" uuid not null,
        "method" text not null,
        "state" text not null,
        "started_at" text,
        "ended_at" text,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`alter table "person" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "person" add constraint "person_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(`alter table "platform" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "platform" add constraint "platform_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "host" add constraint "host_outer_guest_id_fk" foreign key ("estate_id", "outer_guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "host_outer_guest_id_idx" on "host" ("estate_id", "outer_guest_id")`)
    this.addSql(
      `alter table "host" add constraint "host_platform_id_fk" foreign key ("estate_id", "platform_id") references "platform" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "host_platform_id_idx" on "host" ("estate_id", "platform_id")`)
    this.addSql(`alter table "host" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "host" add constraint "host_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "store" add constraint "store_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "store_host_id_idx" on "store" ("estate_id", "host_id")`)
    this.addSql(`alter table "store" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "store" add constraint "store_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(`alter table "network" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "network" add constraint "network_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "attachment" add constraint "attachment_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "attachment_host_id_idx" on "attachment" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "attachment" add constraint "attachment_network_id_fk" foreign key ("estate_id", "network_id") references "network" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "attachment_network_id_idx" on "attachment" ("estate_id", "network_id")`)
    this.addSql(
      `alter table "attachment" add constraint "attachment_host_id_network_id_key" unique ("estate_id", "host_id", "network_id") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "subnet" add constraint "subnet_network_id_fk" foreign key ("estate_id", "network_id") references "network" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "subnet_network_id_idx" on "subnet" ("estate_id", "network_id")`)
    this.addSql(
      `alter table "subnet" add constraint "subnet_network_id_prefix_key" unique ("estate_id", "network_id", "prefix") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "pool" add constraint "pool_subnet_id_fk" foreign key ("estate_id", "subnet_id") references "subnet" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "pool_subnet_id_idx" on "pool" ("estate_id", "subnet_id")`)
    this.addSql(
      `alter table "pool" add constraint "pool_subnet_id_first_key" unique ("estate_id", "subnet_id", "first") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "guest" add constraint "guest_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_host_id_idx" on "guest" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "guest" add constraint "guest_cloned_from_id_fk" foreign key ("estate_id", "cloned_from_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_cloned_from_id_idx" on "guest" ("estate_id", "cloned_from_id")`)
    this.addSql(
      `alter table "guest" add constraint "guest_backup_store_id_fk" foreign key ("estate_id", "backup_store_id") references "store" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "guest_backup_store_id_idx" on "guest" ("estate_id", "backup_store_id")`)
    this.addSql(`alter table "guest" add column "name_key" text generated always as (lower("name")) stored`)
    this.addSql(`alter table "guest" add constraint "guest_name_key" unique ("estate_id", "name_key") deferrable initially deferred`)
    this.addSql(
      `alter table "disk" add constraint "disk_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "disk_guest_id_idx" on "disk" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "disk" add constraint "disk_store_id_fk" foreign key ("estate_id", "store_id") references "store" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "disk_store_id_idx" on "disk" ("estate_id", "store_id")`)
    this.addSql(
      `alter table "disk" add constraint "disk_guest_id_position_key" unique ("estate_id", "guest_id", "position") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "adapter" add constraint "adapter_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "adapter_guest_id_idx" on "adapter" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "adapter" add constraint "adapter_network_id_fk" foreign key ("estate_id", "network_id") references "network" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "adapter_network_id_idx" on "adapter" ("estate_id", "network_id")`)
    this.addSql(
      `alter table "adapter" add constraint "adapter_guest_id_position_key" unique ("estate_id", "guest_id", "position") deferrable initially deferred`,
    )
    this.addSql(`alter table "adapter" add constraint "adapter_mac_key" unique ("estate_id", "mac") deferrable initially deferred`)
    this.addSql(
      `alter table "address" add constraint "address_subnet_id_fk" foreign key ("estate_id", "subnet_id") references "subnet" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "address_subnet_id_idx" on "address" ("estate_id", "subnet_id")`)
    this.addSql(
      `alter table "address" add constraint "address_adapter_id_fk" foreign key ("estate_id", "adapter_id") references "adapter" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "address_adapter_id_idx" on "address" ("estate_id", "adapter_id")`)
    this.addSql(
      `alter table "address" add constraint "address_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "address_host_id_idx" on "address" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "address" add constraint "address_subnet_id_ip_key" unique ("estate_id", "subnet_id", "ip") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "migration" add constraint "migration_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "migration_guest_id_idx" on "migration" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "migration" add constraint "migration_from_host_id_fk" foreign key ("estate_id", "from_host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "migration_from_host_id_idx" on "migration" ("estate_id", "from_host_id")`)
    this.addSql(
      `alter table "migration" add constraint "migration_to_host_id_fk" foreign key ("estate_id", "to_host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "migration_to_host_id_idx" on "migration" ("estate_id", "to_host_id")`)
  }
}
