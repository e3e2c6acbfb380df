import { Migration } from '@mikro-orm/migrations'

/** The id that a sender makes up for a submission, so that the same sent again is done once. */
export class Step0014Submissions extends Migration {
  override up(): void {
    this.addSql(`alter table "change" add column "submission_id" uuid`)
    this.addSql(
      `create unique index "change_submission_id_key" on "change" ("estate_id", "submission_id") where "submission_id" is not null`,
    )
  }
}
