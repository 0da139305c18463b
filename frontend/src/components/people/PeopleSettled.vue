<script setup lang="ts">
import { computed } from 'vue'
import type { Intake, People } from '@/api/types'
import { keysOf } from '@/logic/people'
import { count, counted } from '@/logic/words'

/** What stands where nobody is looked at: by what every row is known. */
const props = defineProps<{ people: People; intake: Intake }>()

const counts = computed(() => props.people.counts)
const keys = computed(() => keysOf(props.people))
const used = computed(() => props.people.keys.filter((key) => key.used))
</script>

<template>
  <h2>{{ counts.possible ? 'Choose a row' : 'Everybody is told apart' }}</h2>
  <p class="soft">
    A row is the record with the same {{ keys || 'key' }}; one that no key knows is told by
    likeness. Two rows of one person, and keys that point to two people, stand under Problems.
  </p>
  <dl>
    <template v-for="key in used" :key="key.title"
      ><dt>{{ count(key.rows) }}</dt>
      <dd>
        known by {{ key.title.toLowerCase()
        }}{{ key.in_file ? '' : ', which the file does not have' }}
      </dd></template
    >
    <dt>{{ counts.certain ?? 0 }}</dt>
    <dd>known by likeness, from {{ people.certain }} in 100 on</dd>
    <dt>{{ counts.nobody ?? 0 }}</dt>
    <dd>
      like nobody in {{ intake.roster_title }}:
      <RouterLink :to="`/intakes/${intake.id}/changes?family=join`">{{
        counted(intake.tally.new, 'joins', 'join')
      }}</RouterLink>
    </dd>
    <dt>{{ counts.chosen ?? 0 }}</dt>
    <dd>decided by you</dd>
  </dl>
  <p v-if="!counts.key && !counts.certain" class="flag">
    No row is known. If these people should be in the roster already, look under Columns whether the
    key and the names are paired rightly.
  </p>
</template>

<style scoped>
.soft {
  margin: 6px 0 12px;
  max-width: 720px;
}
.flag {
  margin-top: 12px;
}
dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  row-gap: 6px;
}
dt {
  text-align: right;
  padding-right: 12px;
  font-weight: 600;
  font-variant-numeric: tabular-nums;
}
</style>
