/** First words for a message about an alarm: kind, without blame, and never a promise. The coach changes them as they like. */
import type { Schemas } from '../api/client'

type Row = Schemas['DeskRow']
type Alarm = Schemas['AlarmView']

export function firstWords(row: Row, alarm: Alarm): string {
  const name = row.name.split(' ')[0]
  const said: Record<string, string> = {
    missed: `Dear ${name}, the last days went by without practice, and that happens. Go on with the next session as it stands in your plan; nothing is made up. Is something in the way that I can change?`,
    overdone: `Dear ${name}, some of your sessions were longer than planned. More strains the muscles and brings nothing sooner. Please stay with the plan, I look at the doses with you this week.`,
    sore: `Dear ${name}, thank you for telling me how sore you are. Go easy today and leave out what hurts. I look at the doses before your next week.`,
    sitting: `Dear ${name}, your photographs are due. In the same place and light and at the same hour as the first ones, before practice, please.`,
    consent: `Dear ${name}, one of the things you agreed to runs out soon. Could you look at your agreements and choose again? Whatever you choose is fine.`,
    over: `Dear ${name}, your program has come to its end. I plan what follows and write to you.`
  }
  return said[alarm.kind] ?? `Dear ${name}, `
}
