<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import WorkBar from '@/components/WorkBar.vue'
import { makeRun } from '@/api/cards'
import type { CardDesign } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { useWork } from '@/composables/useWork'
import { canMake } from '@/logic/design'
import { count, counted } from '@/logic/words'

/** What making cards does, said before it is done. */
const props = defineProps<{
  design: CardDesign
  /** Whose; null for all who need one and can have it. */
  records: number[] | null
  /** Whether they are made although somebody has a good card. */
  anew?: boolean
}>()
const emit = defineEmits<{ close: []; made: [run: number] }>()

const cards = useCards()
const { work, during } = useWork()
// asked again after an answer that was lost, a card is not made twice
const seen = props.design.register_version
const busy = ref(false)
const problem = ref('')
const many = computed(() => props.records?.length ?? canMake(props.design.counts))
const behind = computed(() =>
  [
    [props.design.counts.photo ?? 0, 'has no photograph', 'have no photograph'],
    [props.design.counts.unfit ?? 0, 'does not fit', 'do not fit'],
  ].filter(([number]) => number),
)

async function make(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    const run = await during((token) =>
      makeRun(cards.name, {
        records: props.records,
        anew: !!props.anew,
        count: many.value,
        seen: props.anew ? seen : null,
        work: token,
      }),
    )
    await cards.refresh()
    emit('made', run)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    await cards.refresh()
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="`Make ${counted(many, 'card')}`"
    :footer="null"
    :width="520"
    @cancel="!busy && emit('close')"
  >
    <p>
      Each gets a number that nobody has, and stands in {{ design.register_title }} at once. What
      stands on the cards is kept as it is now. It can be taken back from its receipt.
    </p>
    <ul v-if="!records && behind.length" class="behind">
      <li v-for="[number, one, several] in behind" :key="String(one)">
        <b>{{ count(Number(number)) }}</b>
        {{ number === 1 ? one : several }}, and {{ number === 1 ? 'stays' : 'stay' }} behind
      </li>
    </ul>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <WorkBar v-if="busy" :work="work" first="Making them" />
    <p class="do">
      <button class="btn main" :disabled="busy || !many" @click="make">
        {{ busy ? 'Making them …' : `Make ${counted(many, 'card')}` }}</button><button
        class="btn"
        :disabled="busy"
        @click="emit('close')"
      >
        Cancel
      </button>
    </p>
  </Modal>
</template>

<style scoped>
.behind {
  margin: 10px 0 0;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
