import { Migration } from '@mikro-orm/migrations'

/** Estates that are kept to be read only; steps of one's own that every new sheet has. */
export class Step0013Archive extends Migration {
  override up(): void {
    this.addSql(`alter table "estate" add column "archived_at" text`)
    this.addSql(`create table "routine" (
        "estate_id" uuid not null references "estate_head" ("estate_id") on delete cascade,
        "id" uuid not null,
        "of" text not null,
        "work" text not null,
        "title" text not null,
        "after" text,
        primary key ("estate_id", "id")
      )`)
    // The step before took every host that a change names; a guest is no part of its host, only that it came or went is of its history.
    const hosts = (entries: 'added' | 'removed' | 'updated', path: 'record' | 'from' | 'to', of: string) =>
      `select (e.value->'${path}'->>'hostId')::uuid from jsonb_each(coalesce(c."difference"::jsonb->'${entries}', '{}'::jsonb)) as e
        where e.value->'${path}'->>'hostId' is not null and ${of}`
    const stayed = `e.value->>'kind' = 'guest' and e.value->'from'->>'hostId' = e.value->'to'->>'hostId'`
    this.addSql(`update "change" as c set "about" = array(
        select id from unnest(c."about") as id where id not in (
          ${hosts('updated', 'to', stayed)}
          except select unnest(c."touched")
          except ${hosts('added', 'record', 'true')}
          except ${hosts('removed', 'record', 'true')}
          except ${hosts('updated', 'from', `not (${stayed})`)}
          except ${hosts('updated', 'to', `not (${stayed})`)}
        )
      ) where c."difference"::jsonb @? '$.updated.*.kind ? (@ == "guest")'`)
  }
}
