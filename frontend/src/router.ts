import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './composables/useSession'

export const INTAKE_PAGES = ['file', 'columns', 'problems', 'people', 'changes', 'apply'] as const

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/sign-in',
      component: () => import('./pages/SignIn.vue'),
      meta: { title: 'Sign in', open: true },
    },
    {
      path: '/join',
      component: () => import('./pages/Join.vue'),
      meta: { title: 'Choose a password', open: true },
    },
    {
      path: '/yours',
      component: () => import('./pages/Yours.vue'),
      meta: { title: 'Your data', open: true },
    },
    { path: '/', component: () => import('./pages/Desk.vue'), meta: { title: 'Desk' } },
    {
      path: '/password',
      component: () => import('./pages/OwnPassword.vue'),
      meta: { title: 'Your password' },
    },
    {
      path: '/setup',
      component: () => import('./pages/setup/Setup.vue'),
      meta: { title: 'Setup' },
      redirect: '/setup/people',
      children: [
        { path: 'people', component: () => import('./pages/setup/People.vue') },
        { path: 'programs', component: () => import('./pages/setup/Programs.vue') },
        { path: 'trail', component: () => import('./pages/setup/Trail.vue') },
        { path: 'looked', component: () => import('./pages/setup/LookedAt.vue') },
        { path: 'keeping', component: () => import('./pages/setup/Keeping.vue') },
        { path: 'mail', component: () => import('./pages/setup/Mail.vue') },
        { path: 'practice', component: () => import('./pages/setup/Practice.vue') },
        { path: 'copies', component: () => import('./pages/setup/Copies.vue') },
        { path: 'institution', component: () => import('./pages/setup/Institution.vue') },
      ],
    },
    {
      path: '/intakes',
      component: () => import('./pages/Intakes.vue'),
      meta: { title: 'Intakes' },
    },
    {
      path: '/intakes/:id(\\d+)',
      component: () => import('./pages/intake/Intake.vue'),
      meta: { title: 'Intake' },
      redirect: (to) => ({ path: `${to.path}/problems`, query: to.query }),
      children: [
        { path: 'file', component: () => import('./pages/intake/File.vue') },
        { path: 'columns', component: () => import('./pages/intake/Columns.vue') },
        { path: 'problems', component: () => import('./pages/intake/Problems.vue') },
        { path: 'people', component: () => import('./pages/intake/People.vue') },
        { path: 'changes', component: () => import('./pages/intake/Changes.vue') },
        { path: 'rehearsal', component: () => import('./pages/intake/Rehearsal.vue') },
        { path: 'apply', component: () => import('./pages/intake/Apply.vue') },
      ],
    },
    {
      path: '/sources/:id(\\d+)?',
      component: () => import('./pages/Sources.vue'),
      meta: { title: 'Sources' },
    },
    {
      path: '/rosters',
      component: () => import('./pages/Rosters.vue'),
      meta: { title: 'Rosters' },
    },
    {
      path: '/openings/from-nothing',
      component: () => import('./pages/FromNothing.vue'),
      meta: { title: 'A roster from nothing' },
    },
    {
      path: '/openings/:id(\\d+)',
      component: () => import('./pages/Opening.vue'),
      meta: { title: 'A roster from a file' },
    },
    {
      path: '/rosters/:name',
      component: () => import('./pages/Roster.vue'),
      meta: { title: 'Roster' },
    },
    {
      path: '/rosters/:name/compare',
      component: () => import('./pages/Compare.vue'),
      meta: { title: 'Compare' },
    },
    {
      path: '/rosters/:name/doubles',
      component: () => import('./pages/Doubles.vue'),
      meta: { title: 'Who may stand twice' },
    },
    {
      path: '/rosters/:name/waivers',
      component: () => import('./pages/Waivers.vue'),
      meta: { title: 'Waivers' },
    },
    {
      path: '/rosters/:name/letters/:letter(\\d+)?',
      component: () => import('./pages/Letters.vue'),
      meta: { title: 'Letters', goesItself: true },
    },
    {
      path: '/rosters/:name/over-time',
      component: () => import('./pages/OverTime.vue'),
      meta: { title: 'Over time' },
    },
    {
      path: '/rosters/:name/definition',
      component: () => import('./pages/Definition.vue'),
      meta: { title: 'Definition' },
    },
    {
      path: '/groups/:roster/:kind/spread',
      component: () => import('./pages/Spread.vue'),
      meta: { title: 'Spread people' },
    },
    {
      path: '/groups/:roster?/:kind?',
      component: () => import('./pages/Groups.vue'),
      meta: { title: 'Groups', goesItself: true },
    },
    {
      path: '/submissions',
      component: () => import('./pages/Submissions.vue'),
      meta: { title: 'Submissions' },
    },
    {
      path: '/submissions/begin',
      component: () => import('./pages/BeginSubmission.vue'),
      meta: { title: 'Begin a submission' },
    },
    {
      path: '/submissions/:id(\\d+)',
      component: () => import('./pages/submission/Submission.vue'),
      meta: { title: 'Submission' },
      redirect: (to) => ({ path: `${to.path}/contents`, query: to.query }),
      children: [
        { path: 'contents', component: () => import('./pages/submission/Contents.vue') },
        { path: 'before', component: () => import('./pages/submission/Before.vue') },
        { path: 'rejected', component: () => import('./pages/submission/Rejected.vue') },
        { path: 'numbers', component: () => import('./pages/submission/Numbers.vue') },
        { path: 'layout', component: () => import('./pages/submission/Layout.vue') },
        { path: 'rounds', component: () => import('./pages/submission/Rounds.vue') },
      ],
    },
    { path: '/cards', component: () => import('./pages/Cards.vue'), meta: { title: 'Cards' } },
    {
      path: '/cards/:name',
      component: () => import('./pages/cards/CardDesign.vue'),
      meta: { title: 'Cards' },
      redirect: (to) => ({ path: `${to.path}/needed`, query: to.query }),
      children: [
        { path: 'needed', component: () => import('./pages/cards/Needed.vue') },
        { path: 'design', component: () => import('./pages/cards/Design.vue') },
        { path: 'runs', component: () => import('./pages/cards/Runs.vue') },
        { path: 'ranges', component: () => import('./pages/cards/Ranges.vue') },
      ],
    },
    {
      path: '/passing',
      component: () => import('./pages/Passing.vue'),
      meta: { title: 'Passing on' },
      children: [{ path: ':name', component: () => import('./pages/passing/Destination.vue') }],
    },
    {
      path: '/receipts/:id(\\d+)',
      component: () => import('./pages/Receipt.vue'),
      meta: { title: 'Receipt' },
    },
    {
      path: '/receipts/:id(\\d+)/undo',
      component: () => import('./pages/Undo.vue'),
      meta: { title: 'Take back' },
    },
    {
      path: '/unforeseen',
      component: () => import('./pages/Unforeseen.vue'),
      meta: { title: 'Errors that nobody foresaw' },
    },
    {
      path: '/codes/:name?',
      component: () => import('./pages/Codes.vue'),
      meta: { title: 'Codes' },
    },
    {
      path: '/:rest(.*)*',
      component: () => import('./pages/Nowhere.vue'),
      meta: { title: 'Nothing here' },
    },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.state.asked) await session.find()
  if (!session.state.me && !to.meta.open)
    return { path: '/sign-in', query: to.fullPath === '/' ? {} : { to: to.fullPath } }
  return true
})
router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? 'Nevefield')} · Nevefield`
})
