import { Migration } from '@mikro-orm/migrations'

/**
 * Networks in full: switches, observed leases, port forwards, routes, filters and intentions; what is set on machines;
 * the far ends of cables.
 */
export class Step0003Networks extends Migration {
  override up(): void {
    this.addSql(`create table "switch" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "name" text not null,
        "bond" text not null,
        "tagged_vlans" text,
        "native_vlan" integer,
        "mtu" integer not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "lease" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "subnet_id" uuid not null,
        "ip" text not null,
        "mac" text not null,
        "name" text,
        "seen_at" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "forward" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "host_id" uuid not null,
        "protocol" text not null,
        "host_port" integer not null,
        "adapter_id" uuid not null,
        "guest_port" integer not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "route" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid,
        "host_id" uuid,
        "prefix" text not null,
        "via" text not null,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "filter" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "guest_id" uuid,
        "host_id" uuid,
        "position" integer not null,
        "action" text not null,
        "from_prefix" text,
        "to_prefix" text,
        "protocol" text,
        "port_first" integer,
        "port_last" integer,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`create table "intent" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "from_kind" text not null,
        "from_network_id" uuid,
        "from_name" text,
        "to_kind" text not null,
        "to_network_id" uuid,
        "to_name" text,
        "wanted" text not null,
        "protocol" text not null,
        "port" integer,
        "note" text not null,
        primary key ("estate_id", "id")
      )`)
    this.addSql(`alter table "network" add column "search_domain" text`)
    this.addSql(`alter table "port" add column "switch_id" uuid`)
    this.addSql(`alter table "port" add column "far_end" text`)
    this.addSql(`alter table "port" add column "far_vlans" text`)
    this.addSql(`alter table "port" add column "far_native" integer`)
    this.addSql(`alter table "port" add column "far_mtu" integer`)
    this.addSql(`alter table "attachment" add column "switch_id" uuid`)
    this.addSql(`alter table "subnet" add column "name_servers" text`)
    this.addSql(`alter table "subnet" add column "hand_out" text not null default 'from the low end'`)
    this.addSql(`alter table "subnet" alter column "hand_out" drop default`)
    this.addSql(`alter table "address" add column "name" text`)
    this.addSql(`alter table "address" add column "mac" text`)
    this.addSql(`alter table "address" add column "length" integer`)
    this.addSql(`alter table "address" add column "gateway" text`)
    this.addSql(`alter table "adapter" add column "is_connected" boolean not null default true`)
    this.addSql(`alter table "adapter" alter column "is_connected" drop default`)
    this.addSql(`alter table "guest" add column "is_router" boolean not null default false`)
    this.addSql(`alter table "guest" alter column "is_router" drop default`)
    this.addSql(`alter table "host" add column "is_router" boolean not null default false`)
    this.addSql(`alter table "host" alter column "is_router" drop default`)
    this.addSql(
      `alter table "switch" add constraint "switch_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "switch_host_id_idx" on "switch" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "lease" add constraint "lease_subnet_id_fk" foreign key ("estate_id", "subnet_id") references "subnet" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "lease_subnet_id_idx" on "lease" ("estate_id", "subnet_id")`)
    this.addSql(
      `alter table "forward" add constraint "forward_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "forward_host_id_idx" on "forward" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "forward" add constraint "forward_adapter_id_fk" foreign key ("estate_id", "adapter_id") references "adapter" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "forward_adapter_id_idx" on "forward" ("estate_id", "adapter_id")`)
    this.addSql(
      `alter table "route" add constraint "route_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "route_guest_id_idx" on "route" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "route" add constraint "route_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "route_host_id_idx" on "route" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "filter" add constraint "filter_guest_id_fk" foreign key ("estate_id", "guest_id") references "guest" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "filter_guest_id_idx" on "filter" ("estate_id", "guest_id")`)
    this.addSql(
      `alter table "filter" add constraint "filter_host_id_fk" foreign key ("estate_id", "host_id") references "host" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "filter_host_id_idx" on "filter" ("estate_id", "host_id")`)
    this.addSql(
      `alter table "intent" add constraint "intent_from_network_id_fk" foreign key ("estate_id", "from_network_id") references "network" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "intent_from_network_id_idx" on "intent" ("estate_id", "from_network_id")`)
    this.addSql(
      `alter table "intent" add constraint "intent_to_network_id_fk" foreign key ("estate_id", "to_network_id") references "network" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "intent_to_network_id_idx" on "intent" ("estate_id", "to_network_id")`)
    this.addSql(
      `alter table "port" add constraint "port_switch_id_fk" foreign key ("estate_id", "switch_id") references "switch" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "port_switch_id_idx" on "port" ("estate_id", "switch_id")`)
    this.addSql(
      `alter table "attachment" add constraint "attachment_switch_id_fk" foreign key ("estate_id", "switch_id") references "switch" ("estate_id", "id") deferrable initially deferred`,
    )
    this.addSql(`create index "attachment_switch_id_idx" on "attachment" ("estate_id", "switch_id")`)
    this.addSql(
      `alter table "switch" add constraint "switch_host_id_name_key" unique ("estate_id", "host_id", "name") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "lease" add constraint "lease_subnet_id_ip_key" unique ("estate_id", "subnet_id", "ip") deferrable initially deferred`,
    )
    this.addSql(
      `alter table "forward" add constraint "forward_host_id_protocol_host_port_key" unique ("estate_id", "host_id", "protocol", "host_port") deferrable initially deferred`,
    )
  }
}
