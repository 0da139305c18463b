<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { InputNumber } from 'ant-design-vue'
import NumberRules from '@/components/cards/NumberRules.vue'
import RegisterFields from '@/components/cards/RegisterFields.vue'
import type { CardDesign } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { useDraft } from '@/composables/useDraft'
import type { DesignDocument, Numbering, NumberRange } from '@/logic/design'
import { count } from '@/logic/words'

const props = defineProps<{ design: CardDesign }>()
const cards = useCards()
const kept = () => props.design.document as unknown as DesignDocument
const document = ref<DesignDocument>(kept())
const over = ref(props.design.version)
const changed = computed(() => JSON.stringify(document.value) !== JSON.stringify(kept()))
const { recall } = useDraft(
  `card-ranges.${props.design.name}`,
  document,
  () => changed.value,
  () => ({ version: over.value }),
)
over.value = recall()?.version ?? over.value

const numbering = computed<Numbering>(() => document.value.numbering ?? {})
const ranges = computed<NumberRange[]>(() => numbering.value.ranges ?? [])
const bits = computed(() => numbering.value.number_bits ?? 16)
const facilityBits = computed(() => numbering.value.facility_bits ?? 8)
const put = (next: Partial<Numbering>) =>
  (document.value = { ...document.value, numbering: { ...numbering.value, ...next } })
const putRange = (place: number, next: Partial<NumberRange>) =>
  put({ ranges: ranges.value.map((one, at) => (at === place ? { ...one, ...next } : one)) })
const adder = useTemplateRef<HTMLElement>('adder')
const rows = useTemplateRef<HTMLElement>('rows')
/** The focus goes on: to the range that came in the dropped one's place, or to adding one. */
function drop(place: number): void {
  put({ ranges: ranges.value.filter((_, at) => at !== place) })
  void nextTick(() => {
    const left = rows.value?.querySelectorAll<HTMLElement>('button') ?? []
    ;(left[Math.min(place, left.length - 1)] ?? adder.value)?.focus()
  })
}
function add(): void {
  put({ ranges: [...ranges.value, { facility: 0, first: 1, last: 2 ** bits.value - 1 }] })
  void nextTick(() => rows.value?.querySelector<HTMLElement>('tr:last-child input')?.focus())
}
const leftOf = (range: NumberRange) =>
  props.design.left.find(
    (one) =>
      one.facility === (range.facility ?? 0) &&
      one.first === (range.first ?? 1) &&
      one.last === (range.last ?? 65535),
  )
const number = (given: unknown) => (typeof given === 'number' ? given : undefined)

async function keep(): Promise<void> {
  if (await cards.keep(document.value, over)) take()
}
function take(): void {
  document.value = kept()
  over.value = props.design.version
}
watch(
  () => props.design.version,
  () => !changed.value && take(),
)
</script>

<template>
  <div class="page">
    <div class="head">
      <h2>Ranges of numbers</h2>
      <span class="soft"
        >{{ facilityBits }} bits of facility and {{ bits }} of number, between two parity bits: what
        a reader sends</span
      ><span class="grow" />
      <template v-if="design.may_change">
        <button class="btn" :disabled="!changed" @click="take">Leave as it was</button>
        <button class="btn main" :disabled="!changed" @click="keep">
          Keep as version {{ design.version + 1 }}
        </button>
      </template>
    </div>
    <table class="list">
      <thead>
        <tr>
          <th>Facility</th>
          <th>From</th>
          <th>To</th>
          <th>For whom</th>
          <th class="n">Left</th>
          <th />
        </tr>
      </thead>
      <tbody ref="rows">
        <tr v-for="(range, place) in ranges" :key="place">
          <td>
            <InputNumber
              :value="range.facility ?? 0"
              :min="0"
              :precision="0"
              :disabled="!design.may_change"
              :aria-label="`Facility of range ${place + 1}`"
              @change="(given) => putRange(place, { facility: number(given) })"
            />
          </td>
          <td>
            <InputNumber
              :value="range.first ?? 1"
              :min="0"
              :precision="0"
              :disabled="!design.may_change"
              :aria-label="`First number of range ${place + 1}`"
              @change="(given) => putRange(place, { first: number(given) })"
            />
          </td>
          <td>
            <InputNumber
              :value="range.last ?? 65535"
              :min="0"
              :precision="0"
              :disabled="!design.may_change"
              :aria-label="`Last number of range ${place + 1}`"
              @change="(given) => putRange(place, { last: number(given) })"
            />
          </td>
          <td>
            <input
              class="box"
              :value="range.site ?? ''"
              placeholder="everybody"
              :disabled="!design.may_change"
              :aria-label="`For whom range ${place + 1} is`"
              @change="
                putRange(place, { site: ($event.target as HTMLInputElement).value || undefined })
              "
            />
          </td>
          <td class="n">
            <template v-if="leftOf(range)"
              ><b v-if="leftOf(range)!.is_low" class="bad">{{ count(leftOf(range)!.left) }}</b
              ><template v-else>{{ count(leftOf(range)!.left) }}</template> of
              {{ count(leftOf(range)!.total) }}</template
            ><span v-else class="soft">once it is kept</span>
          </td>
          <td>
            <button
              v-if="design.may_change"
              class="link"
              :aria-label="`Drop range ${place + 1}`"
              @click="drop(place)"
            >
              Drop
            </button>
          </td>
        </tr>
        <tr v-if="!ranges.length">
          <td colspan="6" class="soft">No range yet: no card can get a number.</td>
        </tr>
      </tbody>
    </table>
    <p v-if="design.may_change">
      <button ref="adder" class="link" @click="add">+ another range</button>
    </p>
    <NumberRules
      :numbering="numbering"
      :first="ranges[0]?.first ?? 1"
      :may="design.may_change"
      @put="put"
    />
    <RegisterFields :design="design" :document="document" @put="(next) => (document = next)" />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  overflow-y: auto;
  padding: 12px 16px 30px;
  background: var(--snow);
}
.head {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin-bottom: 8px;
}
</style>
