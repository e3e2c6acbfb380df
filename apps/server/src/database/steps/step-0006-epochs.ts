import { Migration } from '@mikro-orm/migrations'

/**
 * An epoch for each estate, changed when a backup is restored; and which estates the demo made. The log catches up with what
 * the fourth step did to the tables: it made a system of each text by which guests named theirs, and no change says so.
 */
export class Step0006Epochs extends Migration {
  override up(): void {
    this.addSql(`alter table "estate_head" add column "epoch" uuid not null default gen_random_uuid()`)
    this.addSql(`alter table "estate_head" add column "demo" text check ("demo" in ('being loaded', 'loaded'))`)
    this.addSql(logOfSystems)
    this.addSql(`update "estate_head" h set "revision" = c."revision", "updated_at" = c."at" from "change" c
        where c."estate_id" = h."estate_id" and c."revision" = h."revision" + 1`)
  }
}

/** One change for each estate: the systems that no change added, and the guests whose last change knows no system by its id. */
const logOfSystems = `
  with "silent_system" as (
    select "estate_id", "id", "name", jsonb_build_object(
        'id', "id", 'name', "name", 'datasetId', "dataset_id", 'family', "family", 'source', "source",
        'minVcpu', "min_vcpu", 'minMemoryMiB', "min_memory_mib", 'minStorageBytes', "min_storage_bytes",
        'goodVcpu', "good_vcpu", 'goodMemoryMiB', "good_memory_mib", 'goodStorageBytes', "good_storage_bytes",
        'firmware', "firmware", 'paravirtualDisk', "paravirtual_disk", 'paravirtualNet', "paravirtual_net",
        'emulatedNet', "emulated_net", 'releasedOn', "released_on", 'supportedUntil', "supported_until", 'note', "note") as "record"
    from "system" s
    where not exists (select from "change" c where c."estate_id" = s."estate_id" and c."touched" @> array[s."id"])
  ), "last_guest" as (
    select g."estate_id", g."id", g."system_id", (
        select coalesce(c."difference"->'added'->(g."id"::text)->'record', c."difference"->'updated'->(g."id"::text)->'to')
        from "change" c where c."estate_id" = g."estate_id" and c."touched" @> array[g."id"]
        order by c."revision" desc limit 1) as "record"
    from "guest" g where g."system_id" is not null
  ), "silent_guest" as (
    select "estate_id", "id", "system_id", "record" - 'system' || '{"systemId": null}' as "before",
        "record" - 'system' || jsonb_build_object('systemId', "system_id") as "after"
    from "last_guest" where "record" is not null and not "record" ? 'systemId'
  ), "systems" as (
    select "estate_id", array_agg("id") as "ids",
        jsonb_object_agg("id", jsonb_build_object('kind', 'system', 'record', "record")) as "added",
        jsonb_agg(jsonb_build_object('type', 'system.add', 'record', "record") order by "name") as "commands"
    from "silent_system" group by "estate_id"
  ), "guests" as (
    select "estate_id", array_agg("id") as "ids",
        jsonb_object_agg("id", jsonb_build_object('kind', 'guest', 'from', "before", 'to', "after")) as "updated",
        jsonb_agg(jsonb_build_object('type', 'guest.update', 'id', "id", 'changes', jsonb_build_object('systemId', "system_id"))) as "commands"
    from "silent_guest" group by "estate_id"
  )
  insert into "change" ("estate_id", "revision", "at", "actor_id", "actor_name", "commands", "difference", "touched", "reverts")
  select h."estate_id", h."revision" + 1, now(), '00000000-0000-0000-0000-000000000000', 'Insel, when it was updated',
    coalesce(s."commands", '[]') || coalesce(g."commands", '[]'),
    jsonb_build_object('added', coalesce(s."added", '{}'), 'updated', coalesce(g."updated", '{}'), 'removed', '{}'::jsonb),
    coalesce(s."ids", '{}') || coalesce(g."ids", '{}'), null
  from "estate_head" h
  left join "systems" s on s."estate_id" = h."estate_id"
  left join "guests" g on g."estate_id" = h."estate_id"
  where s."estate_id" is not null or g."estate_id" is not null`
