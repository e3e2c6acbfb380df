import { Migration } from '@mikro-orm/migrations'

/** What is on a store beside disks; from which difference on a size is worth changing. */
export class Step0005OtherUse extends Migration {
  override up(): void {
    this.addSql(`alter table "store" add column "other_bytes" bigint`)
    this.addSql(`alter table "policy" add column "size_worth_percent" double precision not null default 15`)
    this.addSql(`alter table "policy" alter column "size_worth_percent" drop default`)
  }
}
