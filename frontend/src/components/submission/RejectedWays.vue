<script setup lang="ts">
import KeyCap from '@/components/controls/KeyCap.vue'
import type { PersonInFull, Submission } from '@/api/types'
import type { Attached, Way } from '@/composables/useRejected'

/** The three ways out of a rejected record, and what each needs to be said. */
defineProps<{
  submission: Submission
  person: PersonInFull
  /** The round that goes next. */
  next: number
  /** Titles of the fields in which theirs can be taken over. */
  takes: string[]
  /** How many records the rule rejected. */
  all: number
  canRight: boolean
  canQuestion: boolean
  may: boolean
}>()
const way = defineModel<Way>('way', { required: true })
const emit = defineEmits<{ done: [everybody: boolean] }>()
const reason = defineModel<string>('reason', { required: true })
const file = defineModel<Attached | null>('file', { required: true })
async function attach(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return void (file.value = null)
  const bytes = new Uint8Array(await chosen.arrayBuffer())
  let text = ''
  for (let start = 0; start < bytes.length; start += 32_768)
    text += String.fromCharCode(...bytes.subarray(start, start + 32_768))
  file.value = { name: chosen.name, data: btoa(text) }
}
</script>

<template>
  <div class="ways" role="radiogroup" aria-label="Who is right">
    <button
      class="way"
      role="radio"
      :aria-checked="way === 'right'"
      :disabled="!canRight"
      :class="{ on: way === 'right' }"
      @click="way = 'right'"
    >
      <b>Ours is right <KeyCap of="1" /></b
      ><span>{{
        canRight
          ? `Ask ${submission.authority} to change theirs. Goes with round ${next}, as a ` +
            `change request with the reason.`
          : 'They hold no record that could be changed.'
      }}</span>
    </button>
    <button
      class="way"
      role="radio"
      :aria-checked="way === 'wrong'"
      :class="{ on: way === 'wrong' }"
      @click="way = 'wrong'"
    >
      <b>Ours is wrong <KeyCap of="2" /></b
      ><span
        >{{
          takes.length
            ? `Take over theirs: ${takes.join(', ').toLowerCase()}. You see what it changes first;`
            : `Correct the record in ${submission.roster_title};`
        }}
        the correction goes with round {{ next }} by itself.</span
      >
    </button>
    <button
      class="way"
      role="radio"
      :aria-checked="way === 'question'"
      :disabled="!canQuestion"
      :class="{ on: way === 'question' }"
      @click="way = 'question'"
    >
      <b>Not this person <KeyCap of="3" /></b
      ><span>{{
        canQuestion
          ? 'Their record is somebody else’s: ask for the number to be looked at.'
          : 'It was sent without a number.'
      }}</span>
    </button>
  </div>
  <div v-if="may" class="act">
    <template v-if="way !== 'wrong'">
      <label class="soft"
        >Reason
        <input
          v-model="reason"
          class="box"
          maxlength="1000"
          placeholder="such as: transfer letter of 28 August on file"
          @keydown.enter.prevent="emit('done', false)"
      /></label>
      <label v-if="way === 'right'" class="btn attach"
        >{{ file ? file.name : 'Attach a file' }}<input type="file" class="unseen" @change="attach"
      /></label>
      <button class="btn main" :disabled="!reason.trim()" @click="emit('done', false)">
        Ready for round {{ next }}
      </button>
      <button v-if="all > 1" class="btn" :disabled="!reason.trim()" @click="emit('done', true)">
        Same for all {{ all }}
      </button>
    </template>
    <template v-else>
      <button v-if="takes.length" class="btn main" @click="emit('done', false)">
        See what it changes
      </button>
      <button v-if="takes.length && all > 1" class="btn" @click="emit('done', true)">
        Same for all {{ all }}
      </button>
      <RouterLink class="btn" :to="`/rosters/${submission.roster}?record=${person.record}`"
        >Open the record</RouterLink
      >
      <span class="soft small">{{
        takes.length ? '' : 'Correct it there; it goes with the next round by itself.'
      }}</span>
    </template>
  </div>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 10px;
  margin-top: 14px;
}
.way {
  border: 1px solid var(--line);
  padding: 10px 12px;
  background: none;
  text-align: left;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  justify-content: flex-start;
}
.way.on {
  border: 2px solid var(--fir);
  padding: 9px 11px;
  background: var(--row-on);
}
.way:disabled {
  cursor: default;
  color: var(--ink3);
}
.way b {
  display: block;
  margin-bottom: 2px;
}
.way span {
  color: var(--ink2);
  font-size: 13px;
  line-height: 17px;
  display: block;
}
.act {
  margin-top: 12px;
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.act label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.act label:first-child {
  flex: 1;
  min-width: 260px;
}
.act .box {
  flex: 1;
}
.attach {
  cursor: pointer;
  position: relative;
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.attach:focus-within {
  outline: 2px solid var(--fir);
  outline-offset: 1px;
}
</style>
