<script setup lang="ts">
import { computed, ref } from 'vue'
import { ofPairs } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import PartDialog from '@/components/intake/PartDialog.vue'
import type { Condition, Intake, Step } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { dayPlus, today } from '@/logic/clock'
import { counted } from '@/logic/words'

const props = defineProps<{ intake: Intake; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step, then?: Step] }>()

const SEPARATORS: [string, string][] = [
  [',', 'commas'],
  [';', 'semicolons'],
  ['\t', 'tabs'],
  ['|', 'bars'],
  [':', 'colons'],
  ['^', 'carets'],
  ['~', 'tildes'],
]
const ENCODINGS: [string, string][] = [
  ['utf-8', 'UTF-8'],
  ['windows-1252', 'Windows-1252 (western Europe)'],
  ['windows-1250', 'Windows-1250 (central Europe)'],
  ['windows-1251', 'Windows-1251 (Cyrillic)'],
  ['windows-1253', 'Windows-1253 (Greek)'],
  ['windows-1254', 'Windows-1254 (Turkish)'],
  ['windows-1257', 'Windows-1257 (Baltic)'],
  ['iso-8859-2', 'ISO 8859-2 (central Europe)'],
  ['iso-8859-15', 'ISO 8859-15 (western Europe)'],
  ['utf-16', 'UTF-16'],
  ['cp850', 'code page 850 (old machines)'],
  ['cp852', 'code page 852 (old, central Europe)'],
  ['cp866', 'code page 866 (old, Cyrillic)'],
  ['koi8-r', 'KOI8-R (Cyrillic)'],
  ['mac-roman', 'Mac Roman'],
]
const OF_GROUPS: [string, string][] = [
  ['people', 'exactly the groups of the people in it'],
  ['groups', 'exactly the people of the groups in it'],
]
/** What parts the cells where no sign does. */
const SHAPES: Record<string, string> = {
  fixed: 'columns of fixed width',
  drawn: 'lines that draw a table',
}
const reading = computed(() => props.intake.reading)
const isText = computed(() => reading.value.separator !== null || reading.value.type in SHAPES)
const encodings = computed(() => {
  const now = reading.value.encoding ?? ''
  return ENCODINGS.some(([value]) => value === now)
    ? ENCODINGS
    : [[now, now] as [string, string], ...ENCODINGS]
})
const separators = computed(() => {
  const now = reading.value.separator ?? ''
  return SEPARATORS.some(([value]) => value === now)
    ? SEPARATORS
    : [[now, SHAPES[reading.value.type] ?? `“${now}”`] as [string, string], ...SEPARATORS]
})

const choose = (part: string, value: unknown) => emit('step', { kind: 'reading', [part]: value })
const parting = ref(false)
const now = computed(() => (props.intake.part ?? null) as Condition | null)
const fields = computed(() => useCatalog().roster(props.intake.roster)?.fields ?? [])
const part = (when: Condition) => {
  parting.value = false
  emit('step', { kind: 'coverage', of: 'part', when })
}

/**
 * What the file claims was said for this file alone, until it is said that the source's next ones
 * claim it too.
 */
const remember = (yes: boolean) =>
  emit('step', {
    kind: 'coverage',
    of: props.intake.coverage,
    when: props.intake.part,
    remember: yes,
  })

/** Exactly these: whatever else there is ends, unless it is said otherwise under Changes. */
function ending(of: string): Step | undefined {
  const last = props.intake.membership?.last
  if (!last || (of !== 'people' && of !== 'groups')) return undefined
  return { kind: 'absent', act: 'end', field: last, day: dayPlus(today(), -1) }
}

/** A part needs its condition first; until it has one, the file claims what it did. */
function claim(of: string | null): void {
  if (of === 'part') parting.value = true
  else if (of) emit('step', { kind: 'coverage', of }, ending(of))
}
const claims = computed(() =>
  ofPairs([
    ['listed', 'only the people in it'],
    [
      'everybody',
      `everybody in ${props.intake.roster_title}${props.intake.within ? ` where ${props.intake.within}` : ''}`,
    ],
    ['part', 'everybody in a part of it'],
    ...(props.intake.membership ? OF_GROUPS : []),
  ]),
)

function chooseHeader(event: Event): void {
  const line = Number((event.target as HTMLInputElement).value)
  if (Number.isInteger(line) && line > 0) choose('header_line', line)
}
</script>

<template>
  <p class="sentence">
    <template v-if="isText">
      Text with
      <ChooseOne
        plain
        :model-value="reading.separator ?? ''"
        :options="ofPairs(separators)"
        label="Separator"
        :disabled="locked"
        @update:model-value="(sign) => choose('separator', sign)"
      />
      in
      <ChooseOne
        plain
        :model-value="reading.encoding"
        :options="ofPairs(encodings)"
        label="Encoding"
        :disabled="locked"
        @update:model-value="(name) => choose('encoding', name)"
      />,
    </template>
    <template v-else-if="reading.sheet !== null">
      A workbook, sheet
      <ChooseOne
        v-if="reading.sheets.length > 1"
        plain
        :model-value="reading.sheet"
        :options="reading.sheets.map((name) => ({ value: name, label: name }))"
        label="Sheet"
        :disabled="locked"
        @update:model-value="(name) => choose('sheet', name)"
      />
      <template v-else>“{{ reading.sheet }}”</template>,
    </template>
    <template v-else-if="reading.type === 'html'">A table in a page of the web,</template>
    <template v-else-if="reading.type === 'xml'">Records in an XML document,</template>
    <template v-else>Records in JSON,</template>
    <template v-if="reading.header_line !== null">
      header on line
      <TextBox
        :model-value="reading.header_line"
        :disabled="locked"
        type="number"
        min="1"
        aria-label="Line of the header"
        @change="chooseHeader"
      />
      <button v-if="!locked" class="link" @click="choose('no_header', true)">there is none</button>,
    </template>
    <template v-else-if="!['jsonl', 'xml'].includes(reading.type)"
      >no header<template v-if="!locked"> (choose a line below, then Enter)</template>,</template
    >
    {{ counted(intake.tally.read, 'row') }}. The file claims to be
    <ChooseOne
      plain
      :model-value="intake.coverage"
      :options="claims"
      label="What the file claims to be"
      :disabled="locked"
      @update:model-value="claim"
    /><template v-if="intake.part">
      where
      <button class="link" :disabled="locked" @click="parting = true">
        {{ intake.part_said }}
      </button></template
    >.
    <template v-if="intake.takes !== 'both'">
      It {{ intake.takes === 'new' ? 'only adds people' : 'only changes people' }}.</template
    >
    <span v-if="intake.claims && intake.source" class="claims">
      {{
        intake.claims === 'this'
          ? 'So for this file alone.'
          : `So for the next files of ${intake.source} too, when this one is applied.`
      }}
      <button v-if="!locked" class="link" @click="remember(intake.claims === 'this')">
        {{
          intake.claims === 'this'
            ? `For the next files of ${intake.source} too`
            : 'For this file alone'
        }}
      </button>
    </span>
    <PartDialog
      :open="parting"
      title="The part that the file is about"
      :words="
        `Only records of ${intake.roster_title} for which this holds can be absent from the ` +
        `file. Everybody else is left as they are.`
      "
      act="It claims everybody of this part"
      :roster="intake.roster"
      :fields="fields"
      :part="now"
      @done="part"
      @close="parting = false"
    />
  </p>
</template>

<style scoped>
.sentence {
  font-size: 15px;
  line-height: 30px;
  padding-right: 16px;
}
.claims {
  font-size: 13.5px;
  color: var(--ink2);
  margin-left: 6px;
}
input {
  font: inherit;
  color: var(--fir);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--fir);
  border-radius: 0;
  padding: 0 2px;
  font-weight: 600;
  cursor: pointer;
}
input {
  width: 58px;
}
.link {
  margin-left: 8px;
}
:disabled {
  cursor: default;
  border-bottom-color: transparent;
  color: var(--ink);
  opacity: 1;
  appearance: none;
}
</style>
