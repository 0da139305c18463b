<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { byTitle, ofPairs } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { previewPattern } from '@/api/intakes'
import type { Field, Pattern, Piece, Unfilled } from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { counted } from '@/logic/words'

const props = defineProps<{
  intake: number
  unfilled: Unfilled | null
  fields: Field[]
  headings: string[]
}>()
const emit = defineEmits<{ done: [pattern: Pattern]; close: [] }>()

/** What a piece is of: a field, or a column of the file. */
const COLUMN = 'column '
const WORDS = ofPairs([
  [0, 'all of it'],
  [1, 'first word'],
  [2, 'second word'],
  [-1, 'last word'],
])
const CASES = ofPairs([
  ['lower', 'small letters'],
  ['upper', 'capitals'],
  ['as it is', 'as it is'],
] as const)
const pattern = ref<Pattern>(blank())

const sources = computed(() =>
  props.fields.filter((one) => one.name !== props.unfilled?.field && !one.several),
)
const offered = computed(() => [
  ...byTitle(sources.value).map((one) => ({ ...one, group: 'fields' })),
  ...props.headings.map((heading) => ({
    value: COLUMN + heading,
    label: `“${heading}”`,
    group: 'columns of the file',
  })),
])
const complete = computed(
  () =>
    pattern.value.pieces.length > 0 &&
    pattern.value.pieces.every((one) => one.field || one.heading || one.text),
)

function blank(): Pattern {
  return { pieces: [], case: 'lower', plain: true, unique: true }
}

/** Names first: what is composed most often is made of them. */
function start(): Pattern {
  const means = (meaning: string) => props.fields.find((one) => one.means === meaning)?.name
  const family = means('family-name') ?? sources.value[0]?.name ?? ''
  const given = means('given-name')
  const pieces: Piece[] = [{ text: '', field: family, heading: '', letters: 5, word: 0 }]
  if (given) pieces.push({ text: '', field: given, heading: '', letters: 1, word: 1 })
  return { ...blank(), pieces }
}

const {
  answer: preview,
  problem,
  waiting,
  again,
  forget,
} = useAnswer(() =>
  props.unfilled && complete.value
    ? previewPattern(props.intake, props.unfilled.field, pattern.value)
    : null,
)

const add = (piece: Partial<Piece>) =>
  pattern.value.pieces.push({ text: '', field: '', heading: '', letters: 0, word: 0, ...piece })
const sourceOf = (piece: Piece) => (piece.heading ? COLUMN + piece.heading : piece.field)
function takeFrom(piece: Piece, source: string): void {
  piece.heading = source.startsWith(COLUMN) ? source.slice(COLUMN.length) : ''
  piece.field = piece.heading ? '' : source
}
const drop = (place: number) => pattern.value.pieces.splice(place, 1)

watch(
  () => props.unfilled,
  (now) => {
    forget()
    if (now)
      pattern.value = now.composed ? (JSON.parse(JSON.stringify(now.composed)) as Pattern) : start()
  },
)
watch(pattern, again, { deep: true })
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!unfilled"
    :title="`Compose ${unfilled?.title ?? ''}`"
    :footer="null"
    :width="640"
    @cancel="emit('close')"
  >
    <p class="soft">
      Where neither the file nor the roster has a value, one is put together from these pieces.
    </p>
    <ol class="pieces">
      <li v-for="(piece, place) in pattern.pieces" :key="place">
        <template v-if="piece.field || piece.heading || !piece.text">
          <ChooseOne
            class="from"
            :model-value="sourceOf(piece)"
            :options="offered"
            :label="`Field of piece ${place + 1}`"
            @update:model-value="(source) => takeFrom(piece, source ?? '')"
          />
          <ChooseOne v-model="piece.word" :options="WORDS" :label="`Word of piece ${place + 1}`" />
          <label
            >letters
            <input
              v-model.number="piece.letters"
              class="box few"
              type="number"
              min="0"
              max="100"
              :title="'0 takes all'"
          /></label>
        </template>
        <label v-else>text <input v-model="piece.text" class="box few" maxlength="40" /></label>
        <span class="grow" />
        <button class="btn" :aria-label="`Remove piece ${place + 1}`" @click="drop(place)">
          Remove
        </button>
      </li>
    </ol>
    <p class="do">
      <button class="btn" @click="add({ field: sources[0]?.name ?? '' })">Add a field</button>
      <button v-if="headings.length" class="btn" @click="add({ heading: headings[0] })">
        Add a column of the file
      </button>
      <button class="btn" @click="add({ text: '.' })">Add a text</button>
      <ChooseOne v-model="pattern.case" :options="CASES" label="Case" />
      <label><input v-model="pattern.plain" type="checkbox" /> plain letters and digits only</label>
      <label><input v-model="pattern.unique" type="checkbox" /> made unique with a number</label>
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="waiting" class="preview soft" role="status">Putting them together …</p>
    <div v-else-if="preview" class="preview" aria-live="polite">
      <p>
        {{ counted(preview.made, 'value') }}, {{ preview.numbered }} made unique with a
        number<template v-if="preview.without"
          >; {{ counted(preview.without, 'row') }} without, for want of a field</template
        >
      </p>
      <ul>
        <li v-for="one in preview.examples" :key="one.line">
          <span class="soft">line {{ one.line }}</span> {{ one.name }} <span class="arrow">→</span
          ><b class="mono">{{ one.value }}</b>
        </li>
      </ul>
    </div>
    <p class="do">
      <button class="btn main" :disabled="!complete" @click="emit('done', pattern)">
        Compose {{ unfilled?.title }}
      </button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.pieces {
  list-style: none;
  padding: 0;
  margin: 12px 0 8px;
}
.pieces li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--drift);
}
.few {
  width: 64px;
}
.from {
  max-width: 220px;
}
.do {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: center;
  margin: 10px 0;
}
.preview {
  background: var(--shade);
  padding: 8px 12px;
  margin-bottom: 12px;
}
.preview li {
  line-height: 22px;
}
</style>
