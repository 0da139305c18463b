<script setup lang="ts">
import NotHere from '@/components/NotHere.vue'
import { ADMINISTER, useSession } from '@/composables/useSession'

/** What keeps an installation going: who works here, what was done, how it is called. */
const session = useSession()
const PARTS = [
  {
    title: 'Who',
    pages: [
      { to: '/setup/people', title: 'People' },
      { to: '/setup/programs', title: 'Programs' },
    ],
  },
  {
    title: 'What was done',
    pages: [
      { to: '/setup/trail', title: 'Trail' },
      { to: '/setup/looked', title: 'Looked at' },
    ],
  },
  {
    title: 'This installation',
    pages: [
      { to: '/setup/institution', title: 'Institution' },
      { to: '/setup/keeping', title: 'Keeping' },
      { to: '/setup/copies', title: 'Copies' },
      { to: '/setup/mail', title: 'Mail' },
      { to: '/setup/practice', title: 'Practice copy' },
      { to: '/unforeseen', title: 'Errors' },
    ],
  },
] as const
</script>

<template>
  <NotHere
    v-if="(session.state.me?.everywhere ?? 0) < ADMINISTER"
    title="Setup is for who administers everything"
    problem="Ask one of them; People in Setup says who they are."
    to="/"
    back="To the desk"
  />
  <div v-else class="setup">
    <nav aria-label="Setup">
      <template v-for="part in PARTS" :key="part.title">
        <h2>{{ part.title }}</h2>
        <RouterLink v-for="page in part.pages" :key="page.to" :to="page.to">{{
          page.title
        }}</RouterLink>
      </template>
    </nav>
    <RouterView />
  </div>
</template>

<style scoped>
.setup {
  flex: 1;
  display: flex;
  min-width: 0;
  min-height: 0;
}
nav {
  flex: 0 0 176px;
  padding: 10px 10px 10px 8px;
  border-right: 1px solid var(--line);
  overflow: auto;
}
h2 {
  font-size: 13px;
  font-weight: 400;
  color: var(--ink2);
  padding: 6px 10px 4px;
}
a {
  display: block;
  color: var(--ink);
  text-decoration: none;
  padding: 5px 10px;
  border-left: 3px solid transparent;
}
a.router-link-active {
  font-weight: 600;
  background: var(--paper);
  border-color: var(--ink);
}
@media (max-width: 999px) {
  .setup {
    flex-direction: column;
    overflow: auto;
  }
  nav {
    flex: none;
    display: flex;
    flex-wrap: wrap;
    border-right: 0;
    border-bottom: 1px solid var(--line);
  }
}
</style>
