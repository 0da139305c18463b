<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import RecordField from './RecordField.vue'
import type { Roster, RowDetail, Step } from '@/api/types'
import { WORDS } from '@/logic/layers'
import { counted } from '@/logic/words'

const props = defineProps<{ detail: RowDetail; roster: Roster; front: string[]; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step]; hold: []; leave: []; waive: [] }>()

const all = ref(false)
const editing = ref('')
const parts = ref<InstanceType<typeof RecordField>[]>([])
const isAside = computed(
  () => props.detail.outcome === 'held' || props.detail.outcome === 'left_out',
)
const open = computed(() =>
  props.detail.findings.filter((one) => one.weight !== 'note' && !one.waived),
)
const wrong = computed(
  () => new Set(open.value.filter((one) => one.weight === 'stop').map((one) => one.field)),
)
const said = computed(() => {
  const words = (
    props.detail.is_in
      ? { new: 'joined the roster', changed: 'changed its record', same: 'was the same already' }
      : { new: 'would be new', changed: 'would change its record', same: 'is the same already' }
  ) as Record<string, string>
  const stops = open.value.filter((one) => one.weight === 'stop').length
  const asks = open.value.length - stops
  return [
    `line ${props.detail.line}`,
    words[props.detail.outcome] ?? WORDS[props.detail.outcome],
    stops && counted(stops, 'stop'),
    asks && counted(asks, 'ask'),
  ]
    .filter(Boolean)
    .join(' · ')
})
/**
 * What is wrong by the open cause first, then what else is wrong, then those that the check reads,
 * then what changes, then the rest as far as it is filled.
 */
const fields = computed(() => {
  const rank = (name: string, changed: boolean) =>
    wrong.value.has(name)
      ? Number(!props.front.includes(name))
      : props.front.includes(name)
        ? 2
        : changed
          ? 3
          : 4
  const shown = props.detail.fields.filter(
    (one) =>
      all.value ||
      wrong.value.has(one.field) ||
      props.front.includes(one.field) ||
      (one.value !== null && one.value !== ''),
  )
  return shown
    .map((one, place) => ({ one, order: rank(one.field, one.is_changed) * 100 + place }))
    .sort((a, b) => a.order - b.order)
    .map(({ one }) => one)
})
/** What asked about the row and was approved, with its reason. */
const approved = computed(() => props.detail.findings.filter((one) => one.approval))
const rowFindings = computed(() => open.value.filter((one) => one.field === null))
const spec = (name: string) => props.roster.fields.find((one) => one.name === name)

async function edit(name = ''): Promise<void> {
  if (props.locked) return
  editing.value = name || fields.value[0]?.field || ''
  await nextTick()
  parts.value.find((one) => one.name === editing.value)?.focus()
}

function set(field: string, value: string): void {
  editing.value = ''
  emit('step', { kind: 'set', cells: [{ line: props.detail.line, field, value }] })
}

defineExpose({ edit: (name = '') => void edit(name) })
</script>

<template>
  <aside class="record" aria-label="The row in full">
    <h2>{{ detail.name || 'No name' }}</h2>
    <p class="soft">{{ said }}</p>
    <p v-if="detail.reason" class="flag">{{ WORDS[detail.outcome] }}: “{{ detail.reason }}”</p>
    <p v-for="one in approved" :key="one.cause" class="flag approved">
      {{ one.approval }} <span class="soft">{{ one.message }}</span>
    </p>
    <p v-for="one in rowFindings" :key="one.message" class="flag stop">{{ one.message }}</p>
    <dl>
      <RecordField
        v-for="one in fields"
        :key="one.field"
        ref="parts"
        :name="one.field"
        :value="one"
        :field="spec(one.field)"
        :findings="detail.findings.filter((two) => two.field === one.field)"
        :editing="editing === one.field"
        :locked="locked"
        @edit="edit(one.field)"
        @set="(value: string) => set(one.field, value)"
        @leave="editing = ''"
      />
    </dl>
    <div class="do">
      <template v-if="isAside"
        ><button
          class="btn fir"
          :disabled="locked"
          @click="emit('step', { kind: 'release', lines: [detail.line] })"
        >
          Take back in
        </button></template
      >
      <template v-else>
        <button
          v-if="open.some((one) => one.weight === 'ask')"
          class="btn fir"
          :disabled="locked"
          @click="emit('waive')"
        >
          Approve <KeyCap of="W" />
        </button>
        <button class="btn" :disabled="locked" @click="emit('hold')">Hold <KeyCap of="H" /></button>
        <button class="btn" :disabled="locked" @click="emit('leave')">
          Leave out <KeyCap of="L" />
        </button>
      </template>
      <button v-if="all || fields.length < detail.fields.length" class="btn" @click="all = !all">
        {{
          all
            ? 'Filled fields only'
            : counted(detail.fields.length - fields.length, 'more field', 'more fields')
        }}
      </button>
    </div>
  </aside>
</template>

<style scoped>
.record {
  width: 286px;
  flex: none;
  background: var(--snow);
  border-left: 1px solid var(--line);
  padding: 10px 14px;
  font-size: 13px;
  overflow-y: auto;
}
h2 {
  font-size: 16px;
  line-height: 20px;
  overflow-wrap: anywhere;
}
.flag {
  margin-top: 8px;
}
dl {
  display: grid;
  grid-template-columns: 94px 1fr;
  margin-top: 8px;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 14px;
}
@media (min-width: 1600px) {
  .record {
    width: 420px;
  }
  dl {
    grid-template-columns: 130px 1fr;
  }
}
@media (width < 1180px) {
  .record {
    width: 230px;
  }
}
</style>
