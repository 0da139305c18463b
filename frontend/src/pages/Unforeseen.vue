<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { message } from 'ant-design-vue'
import { listUnforeseen, settleUnforeseen } from '@/api/unforeseen'
import type { Unforeseen } from '@/api/types'
import { count, counted, momentInFull } from '@/logic/words'

const found = shallowRef<Unforeseen[] | null>(null)
const problem = ref('')
const settling = ref(0)

async function load(): Promise<void> {
  try {
    found.value = await listUnforeseen()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function settle(one: Unforeseen): Promise<void> {
  settling.value = one.id
  try {
    await settleUnforeseen(one.id)
  } catch (error) {
    void message.error(error instanceof Error ? error.message : String(error), 6)
  }
  await load()
  settling.value = 0
}

onMounted(() => void load())
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Errors that nobody foresaw</h1>
      <span class="soft">each was answered with a sentence and a mark</span
      ><span class="grow" /><RouterLink to="/">Desk</RouterLink>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <div v-if="!found.length" class="empty">
        <h2>Nothing happened that nobody foresaw</h2>
        <p>
          Should something go wrong inside the product, it stands here with how often and where, and
          in the log with all that is known of it.
        </p>
      </div>
      <template v-else>
        <p class="bar">
          Give the mark, and the lines that stand under it in the log, to whoever looks after the
          product. What is put aside comes back when it happens again.
        </p>
        <table>
          <thead>
            <tr>
              <th>What was asked for</th>
              <th>Error</th>
              <th class="n">Times</th>
              <th>Last</th>
              <th>Mark in the log</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in found" :key="one.id">
              <td class="mono">{{ one.doing }}</td>
              <td>
                {{ one.kind
                }}<span class="soft mono">{{ one.source || 'outside of the product' }}</span>
              </td>
              <td class="n">
                <b>{{ count(one.times) }}</b>
              </td>
              <td>
                {{ momentInFull(one.last_at)
                }}<span v-if="one.times > 1" class="soft"
                  >{{ counted(one.times, 'time') }} since {{ momentInFull(one.first_at) }}</span
                >
              </td>
              <td class="mono">{{ one.mark }}</td>
              <td>
                <button
                  class="btn"
                  :disabled="settling === one.id"
                  :aria-label="`Put aside: ${one.kind} at ${one.doing}`"
                  @click="settle(one)"
                >
                  Put aside
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
    <p v-else-if="!problem" class="soft" role="status">Looking …</p>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 12px 16px 24px;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  flex-wrap: wrap;
}
h1 {
  font-size: 18px;
  line-height: 26px;
  margin: 0;
}
.bar {
  margin: 8px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--snow);
  border: 1px solid var(--line);
  table-layout: fixed;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 10px;
  border-bottom: 1px solid var(--drift);
  font-weight: 400;
  overflow-wrap: anywhere;
  line-height: 19px;
}
th {
  color: var(--ink2);
  font-size: 13px;
}
th:nth-child(2) {
  width: 25%;
}
th:nth-child(3) {
  width: 70px;
}
th:nth-child(4) {
  width: 21%;
}
th:nth-child(5) {
  width: 120px;
}
th:last-child {
  width: 106px;
}
.n {
  text-align: right;
}
td .soft {
  display: block;
  font-size: 13px;
}
</style>
