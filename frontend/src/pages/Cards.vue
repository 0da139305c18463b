<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import BeginCards from '@/components/cards/BeginCards.vue'
import SmallTally from '@/components/cards/SmallTally.vue'
import { listDesigns } from '@/api/cards'
import type { CardDesignBrief } from '@/api/types'
import { PREPARE, useSession } from '@/composables/useSession'
import { needOne } from '@/logic/design'
import { count, moment } from '@/logic/words'

const router = useRouter()
const session = useSession()
const found = ref<CardDesignBrief[] | null>(null)
const problem = ref('')
const beginning = ref(false)
const now = new Date()
const may = computed(() => session.state.me?.rosters.some((one) => one.level >= PREPARE))

onMounted(async () => {
  try {
    found.value = await listDesigns()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
const open = (name: string) => router.push(`/cards/${name}/needed`)
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Cards</h1>
      <span class="soft">who needs one, what stands on it, and who has which</span
      ><span class="grow" />
      <button v-if="may && found" class="btn main" @click="beginning = true">
        Begin {{ found.length ? 'another design' : 'a card design' }} …
      </button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="found?.length" class="list">
      <thead>
        <tr>
          <th>Design</th>
          <th>Cards are kept in</th>
          <th class="n">People</th>
          <th>Where they stand</th>
          <th class="n">Need one</th>
          <th class="n">To take in</th>
          <th>Version</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in found" :key="one.name" class="click" @click="open(one.name)">
          <td>
            <RouterLink :to="`/cards/${one.name}/needed`">{{ one.title }}</RouterLink>
          </td>
          <td>{{ one.register_title }}</td>
          <td class="n">{{ count(one.people) }}</td>
          <td><SmallTally :counts="one.counts" /></td>
          <td class="n">
            <b v-if="needOne(one.counts)">{{ count(needOne(one.counts)) }}</b><span v-else>–</span>
          </td>
          <td class="n">{{ count(one.counts['take in'] ?? 0) }}</td>
          <td>{{ one.version }}, since {{ moment(one.since, now) }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="found" class="empty">
      <h2>No card design yet</h2>
      <p>
        A design says what stands on the cards of the people of a roster. From it follows who needs
        one; cards are made in runs, each with a number that nobody else has.
      </p>
      <button v-if="may" class="btn fir" @click="beginning = true">Begin a card design …</button>
    </div>
    <p v-else-if="!problem" class="soft" role="status">Looking who needs a card …</p>
    <BeginCards v-if="beginning" :designs="found ?? []" @close="beginning = false" @begun="open" />
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
/* titles may be long */
td:nth-child(-n + 2) {
  white-space: normal;
}
</style>
