<script setup lang="ts">
import { computed } from 'vue'
import { useIntake } from '@/composables/useIntake'
import { useCatalog } from '@/composables/useCatalog'
import { counted, listed } from '@/logic/words'

const { intake, id } = useIntake()
const catalog = useCatalog()
const keys = computed(() => listed(catalog.roster(intake.value?.roster ?? '')?.fields.filter((one) => one.is_key).map((one) => one.title) ?? []))
const known = computed(() => intake.value?.by_key ?? 0)
const nobody = computed(() => intake.value?.nobody ?? 0)
</script>

<template>
  <div v-if="intake" class="page">
    <h2>Everybody is told apart by key</h2>
    <p class="soft">A row is the record with the same {{ keys || 'key' }}. Two rows of one person, and keys that point to two people, stand under Problems.</p>
    <table class="list">
      <thead><tr><th>rows</th><th class="n">number</th><th>what becomes of them</th></tr></thead>
      <tbody>
        <tr>
          <td>known in {{ intake.roster_title }}</td><td class="n"><b>{{ known }}</b></td>
          <td>
            <RouterLink :to="`/intakes/${id}/problems?outcome=changed`">{{ counted(intake.tally.changed, 'changes', 'change') }}</RouterLink> ·
            <RouterLink :to="`/intakes/${id}/problems?outcome=same`">{{ counted(intake.tally.same, 'is the same', 'are the same') }}</RouterLink>
          </td>
        </tr>
        <tr>
          <td>nobody has their {{ keys || 'key' }}</td><td class="n"><b>{{ nobody }}</b></td>
          <td><RouterLink :to="`/intakes/${id}/changes?family=join`">{{ counted(intake.tally.new, 'joins', 'join') }}</RouterLink></td>
        </tr>
        <tr>
          <td>of both, not going in as things stand</td><td class="n"><b>{{ intake.tally.stopped + intake.tally.waiting + intake.tally.held + intake.tally.left_out }}</b></td>
          <td>
            <RouterLink :to="`/intakes/${id}/problems?outcome=stopped`">{{ intake.tally.stopped }} stopped</RouterLink> ·
            <RouterLink :to="`/intakes/${id}/problems?outcome=waiting`">{{ intake.tally.waiting }} waiting</RouterLink> ·
            <RouterLink :to="`/intakes/${id}/problems?outcome=held`">{{ intake.tally.held }} held</RouterLink> ·
            <RouterLink :to="`/intakes/${id}/problems?outcome=left_out`">{{ intake.tally.left_out }} left out</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="!known" class="flag">No row has the key of a record. If these people should be in the roster already, look under Columns whether the key is paired rightly.</p>
  </div>
</template>

<style scoped>
.page { padding: 18px 22px; max-width: 860px; }
.page > p { margin: 4px 0 16px; }
.page > .flag { margin-top: 16px; }
td a { text-decoration: none; font-weight: 600; }
td a:hover { text-decoration: underline; }
</style>
