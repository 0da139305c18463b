<script setup lang="ts">
import { computed, ref } from 'vue'
import Mark from '@/components/Mark.vue'
import type { Intake, Step } from '@/api/types'
import { day } from '@/logic/words'

const props = defineProps<{ intake: Intake; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step]; forget: [] }>()

const naming = ref(false)
const name = ref('')
const known = computed(() =>
  [...new Set(props.intake.sources)].filter((one) => one !== props.intake.source),
)
const isGuess = computed(() => !!props.intake.source && props.intake.source_by === 'guess')

function take(source: string): void {
  naming.value = false
  emit('step', { kind: 'source', name: source.trim() })
}
</script>

<template>
  <div class="source">
    <div v-if="isGuess" class="guess" role="status">
      <p>
        <b>It seems to be from {{ intake.source }}.</b> {{ intake.source_why
        }}<template v-if="intake.learnt">
          It is read as was learnt there on {{ day(intake.learnt) }}.
        </template>
        <span class="soft"
          >Until somebody says so, nothing is learnt from this file for the next one.</span
        >
      </p>
      <p v-if="!locked" class="do">
        <button class="btn fir" @click="take(intake.source)">It is from {{ intake.source }}</button>
        <button class="btn" @click="take('')">It is not</button>
        <button v-if="!naming" class="btn" @click="naming = true">It is from somewhere else</button>
      </p>
    </div>
    <p v-else>
      <template v-if="intake.source && intake.learnt">
        From <b>{{ intake.source }}</b>, read as learnt on {{ day(intake.learnt) }}.
        {{ intake.source_why }}
        <button v-if="!locked" class="link" @click="emit('forget')">Forget what was learnt</button>
      </template>
      <template v-else-if="intake.source"
        >From <b>{{ intake.source }}</b>. {{ intake.source_why }} What is decided here is remembered
        for its next file when this one is applied.</template
      >
      <template v-else
        >Where the file comes from is not said, so nothing will be remembered for the next
        one.</template
      >
      <button v-if="!locked && !naming" class="link" @click="naming = true">
        {{ intake.source ? 'It is from somewhere else' : 'Say where it is from' }}
      </button>
    </p>
    <form v-if="naming" class="name" @submit.prevent="take(name)">
      <button v-for="one in known" :key="one" type="button" class="btn" @click="take(one)">
        {{ one }}
      </button>
      <label>Another office or system <input v-model="name" class="box" maxlength="120" /></label>
      <button class="btn fir" :disabled="!name.trim()">It is from there</button>
      <button v-if="intake.source" type="button" class="btn" @click="take('')">
        I do not know
      </button>
      <button type="button" class="btn" @click="naming = false">Cancel</button>
    </form>
    <template v-if="intake.unlike.length">
      <h3>Unlike the last file of {{ intake.source }}</h3>
      <ul>
        <li v-for="one in intake.unlike" :key="one"><Mark weight="ask" />{{ one }}</li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.source {
  margin: 8px 16px 0 0;
  font-size: 13.5px;
}
.source p .link {
  margin-left: 8px;
}
.guess {
  border-left: 3px solid var(--waiting);
  padding: 2px 0 4px 10px;
}
.guess p {
  max-width: 900px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.name {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}
h3 {
  margin: 10px 0 2px;
}
li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  line-height: 22px;
}
</style>
